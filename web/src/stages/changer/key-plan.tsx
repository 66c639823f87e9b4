/** Where on the machine the sheet is: the whole travel, small, with the spindle's place. */
import type { Scene, Setup } from "../../api/client";
import { PlanBodies } from "../../drawing/bodies";
import type { Bounds } from "../../drawing/projection";
import { shown, unitOf } from "../../quantity/format";
import type { Place } from "../../trace/evaluate";

interface Props {
  setup: Setup;
  scene: Scene;
  at: Place | null;
  region?: Bounds;
  x: number;
  y: number;
  width: number;
  height: number;
}

export function KeyPlan({ setup, scene, at, region, x, y, width, height }: Props) {
  const { X, Y } = setup.machine.axes;
  const [wide, deep] = [X.greatest - X.least, Y.greatest - Y.least];
  const [left, right] = [Math.min(X.least, ...(region?.x ?? [])), Math.max(X.greatest, ...(region?.x ?? []))];
  const [low, top] = [Math.min(Y.least, ...(region?.y ?? [])), Math.max(Y.greatest, ...(region?.y ?? []))];
  const scale = Math.min(width / (right - left), height / (top - low)); // a disc may stand beside the travel
  if (scale <= 0) return null;
  const to = {
    scale,
    atX: (mm: number) => x + (mm - left) * scale,
    atY: (mm: number) => y + (top - mm) * scale,
  };
  return (
    <g>
      <rect
        x={to.atX(X.least)}
        y={to.atY(Y.greatest)}
        width={wide * scale}
        height={deep * scale}
        fill="var(--sheet)"
        className="line-thin"
        style={{ stroke: "var(--ink-2)" }}
      />
      <g style={{ strokeWidth: 0.8 }}>
        <PlanBodies scene={scene} to={to} />
      </g>
      {region && (
        <rect
          x={to.atX(region.x[0])}
          y={to.atY(region.y[1])}
          width={(region.x[1] - region.x[0]) * scale}
          height={(region.y[1] - region.y[0]) * scale}
          fill="none"
          className="line-now-thin"
          strokeDasharray="3 2"
        />
      )}
      {at && (
        <circle
          cx={to.atX(at[0])}
          cy={to.atY(at[1])}
          r="5"
          fill="var(--now-wash)"
          stroke="var(--now)"
          strokeWidth="1.6"
        />
      )}
      <text
        data-soft
        x={to.atX((X.least + X.greatest) / 2)}
        y={to.atY(low) + 15}
        textAnchor="middle"
        className="caption"
      >
        {shown(wide, "length", setup.machine.unit, "short")} × {shown(deep, "length", setup.machine.unit, "short")}{" "}
        {unitOf("length", setup.machine.unit)}
      </text>
    </g>
  );
}
