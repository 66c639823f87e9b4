/** The sheet of the changer: plan, front and side view to scale, sharing their axes, with dimensions that can be edited. */
import { useMemo } from "react";
import type { Derived, Scene, Setup } from "../../api/client";
import { extent, PlanBodies, Stored, UprightBodies, UprightSpindle } from "../../drawing/bodies";
import { type Bounds, type Projection, project, statedScale } from "../../drawing/projection";
import { useSize } from "../../drawing/use-size";
import { shown, unitOf } from "../../quantity/format";
import { useUnit } from "../../quantity/rows";
import { carriedAt, heldAt, type Place, placeAt } from "../../score/evaluate";
import { traceOf, useWork } from "../../work/store";
import { HeightDimensions, Ladder, PlanDimensions } from "./dimensions";
import { KeyPlan } from "./key-plan";
import { PlanPockets, PlanSpindle } from "./pockets";

const ABOVE = 46;
/** mm of the sheet above the top of travel, for the spindle */

function boundsOf(setup: Setup, derived: Derived, scene: Scene): Bounds {
  const rack = scene.bodies.filter((body) => /rack| in pocket /.test(body.name));
  const xs = rack.flatMap((body) => extent(body, 0));
  const ys = rack.flatMap((body) => extent(body, 1));
  const z = setup.machine.axes.Z;
  const bottom = Math.min(derived.rack_top_z - 20, ...rack.map((body) => body.bottom), ...lowestTips(derived, scene));
  return {
    x: [Math.min(...xs) - 30, Math.max(...xs) + 30],
    y: [Math.min(...ys) - 26, Math.max(...ys) + 26],
    z: [bottom - 8, Math.max(z.greatest, derived.ladder.park_z) + ABOVE],
  };
}

function lowestTips(derived: Derived, scene: Scene): number[] {
  const stored = scene.rack?.pockets.map((pocket) => scene.tools.find((tool) => tool.number === pocket.tool)) ?? [];
  return stored.map((tool) => (tool ? derived.ladder.couple_z - tool.length : derived.ladder.couple_z));
}

/** The scene without bodies that are elsewhere on the machine; the key plan has them. */
function beside(scene: Scene): Scene {
  const rack = scene.bodies.filter((body) => /rack| in pocket /.test(body.name));
  const reach = (axis: 0 | 1) => {
    const all = rack.flatMap((body) => extent(body, axis));
    return [Math.min(...all) - 30, Math.max(...all) + 30] as const;
  };
  const [x, y] = [reach(0), reach(1)];
  const near = (body: Scene["bodies"][number]) => {
    const [bx, by] = [extent(body, 0), extent(body, 1)];
    return bx[1] > x[0] && bx[0] < x[1] && by[1] > y[0] && by[0] < y[1];
  };
  return { ...scene, bodies: scene.bodies.filter(near) };
}

/** Where the drawn machine stands: at the moment of the line of time, or parked over the middle of the rack. */
function useNow(): { at: Place | null; tool: number; held: number | null } {
  const trace = useWork(traceOf);
  const time = useWork((work) => work.time);
  if (!trace) return { at: null, tool: 0, held: 0 };
  return { at: placeAt(trace, time), tool: carriedAt(trace, time), held: heldAt(trace, time) };
}

export function ChangerSheet() {
  const setup = useWork((work) => work.document);
  const derived = useWork((work) => work.answer?.derived);
  const whole = useWork((work) => work.answer?.scene);
  const scene = useMemo(() => whole && beside(whole), [whole]);
  const { element, width, height } = useSize<HTMLDivElement>();
  return (
    <div ref={element} data-drawing className="h-full bg-sheet">
      {setup?.changer && derived && scene && width > 0 && (
        <Drawing setup={setup} derived={derived} scene={scene} whole={whole ?? scene} width={width} height={height} />
      )}
    </div>
  );
}

interface DrawingProps {
  setup: Setup;
  derived: Derived;
  scene: Scene;
  whole: Scene;
  width: number;
  height: number;
}

function Drawing({ setup, derived, scene, whole, width, height }: DrawingProps) {
  const { at, tool } = useNow();
  const unit = useUnit();
  const foot = 38;
  const to = useMemo(
    () =>
      project(boundsOf(setup, derived, scene), {
        width,
        height: height - foot,
        margin: { left: 150, top: 28, right: 16, bottom: 10 },
        between: 78,
        beside: 104,
      }),
    [setup, derived, scene, width, height],
  );
  const pocket = useWork((work) => work.pair?.to);
  const target = scene.rack?.pockets.find((entry) => entry.tool === pocket) ?? scene.rack?.pockets[0];
  const bottom = height - foot;
  const narrow = width < 640;
  const mm = (value: number) => shown(value, "length", unit);
  const over =
    at && at[0] >= to.bounds.x[0] && at[0] <= to.bounds.x[1] && at[1] >= to.bounds.y[0] && at[1] <= to.bounds.y[1];
  return (
    <svg width={width} height={height} role="group" aria-label="Drawing of the changer">
      <title>Plan, front and side view of the changer</title>
      <defs>
        <clipPath id="plan-clip">
          <rect x={to.plan.left} y={to.plan.top} width={to.plan.width} height={to.plan.height} />
        </clipPath>
        <clipPath id="front-clip">
          <rect x={to.front.left} y={to.front.top} width={to.front.width} height={to.front.height} />
        </clipPath>
        <clipPath id="side-clip">
          <rect x={to.side.left} y={to.side.top} width={to.side.width} height={to.side.height} />
        </clipPath>
      </defs>
      <Captions to={to} />
      <g clipPath="url(#plan-clip)">
        <TravelEnds setup={setup} to={to} />
        <PlanBodies scene={scene} to={to} />
      </g>
      <PlanPockets scene={scene} to={to} carried={tool} />
      {over && at && <PlanSpindle at={at} scene={scene} to={to} />}
      <PlanDimensions setup={setup} derived={derived} to={to} />
      <g clipPath="url(#front-clip)">
        <UprightBodies scene={scene} to={to} view="front" />
        <Stored scene={scene} to={to} view="front" carried={tool} />
      </g>
      <g clipPath="url(#side-clip)">
        <UprightBodies scene={scene} to={to} view="side" />
        <Stored scene={scene} to={to} view="side" carried={tool} />
      </g>
      <Ladder derived={derived} to={to} at={at} />
      {at && (
        <>
          <g clipPath="url(#front-clip)">
            <UprightSpindle scene={scene} at={at} tool={tool} to={to} view="front" />
          </g>
          <g clipPath="url(#side-clip)">
            <UprightSpindle scene={scene} at={at} tool={tool} to={to} view="side" />
          </g>
          <ContactMark to={to} />
        </>
      )}
      <HeightDimensions setup={setup} derived={derived} to={to} />
      <KeyPlan
        setup={setup}
        scene={whole}
        at={at}
        region={to.bounds}
        x={to.side.left}
        y={to.plan.top - 4}
        width={width - to.side.left - 14}
        height={Math.max(60, to.front.top - to.plan.top - 44)}
      />
      <path d={`M14 ${bottom + 4}H${width - 14}`} stroke="var(--rule)" />
      {target && (!narrow || !at) && (
        <text x="20" y={bottom + 26} style={{ fontSize: 15 }}>
          <tspan fontWeight="600">Pocket {target.pocket}</tspan>
          <tspan dx="12">
            X {mm(target.x)} Y {mm(target.y)}
          </tspan>
        </text>
      )}
      {at && (
        <text
          x={narrow ? 20 : Math.max(270, width * 0.38)}
          y={bottom + 26}
          style={{ fontSize: 15, fill: "var(--now)" }}
          data-now
        >
          spindle now X {mm(at[0])} Y {mm(at[1])} Z {mm(at[2])}
        </text>
      )}
      <text x={width - 16} y={bottom + 26} textAnchor="end" className="caption">
        {statedScale(to.scale)} {unitOf("length", unit)}
      </text>
    </svg>
  );
}

function Captions({ to }: { to: Projection }) {
  return (
    <g className="caption">
      <text x={18} y={20} className="caption">
        Plan
      </text>
      <text x={18} y={to.front.top - 10} className="caption">
        Front
      </text>
      <text x={to.side.left} y={to.front.top - 10} className="caption">
        Side
      </text>
      <text x={to.side.left} y={20} className="caption">
        Where
      </text>
    </g>
  );
}

function TravelEnds({ setup, to }: { setup: Setup; to: Projection }) {
  const { X, Y } = setup.machine.axes;
  const { plan } = to;
  const inside = (y: number) => y > plan.top && y < plan.top + plan.height;
  const y = to.atY(Y.greatest);
  return (
    <g>
      <rect
        x={to.atX(X.least)}
        y={y}
        width={(X.greatest - X.least) * to.scale}
        height={(Y.greatest - Y.least) * to.scale}
        fill="none"
        className="line-hidden"
      />
      {inside(y) && (
        <text x={plan.left + plan.width - 4} y={y - 4} textAnchor="end" className="caption">
          travel ends
        </text>
      )}
    </g>
  );
}

/** The place of the chosen finding, in the front view. */
function ContactMark({ to }: { to: Projection }) {
  const chosen = useWork((work) => work.chosen);
  if (!chosen?.position || chosen.severity !== "stop") return null;
  const [x, , z] = chosen.position as Place;
  return (
    <circle
      cx={to.atX(x)}
      cy={to.atZ(z)}
      r="14"
      fill="none"
      stroke="var(--stop)"
      strokeWidth="2.4"
      pointerEvents="none"
    />
  );
}
