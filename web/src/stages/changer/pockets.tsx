/** The pockets of the plan, which choose an exchange by two clicks, and the spindle over them. */
import type { Scene } from "../../api/client";
import type { Projection } from "../../drawing/projection";
import type { Place } from "../../score/evaluate";
import { useWork } from "../../work/store";

export function PlanPockets({ scene, to, carried }: { scene: Scene; to: Projection; carried: number }) {
  const rack = scene.rack;
  const picked = useWork((work) => work.picked);
  const pair = useWork((work) => work.pair);
  if (!rack) return null;
  const dense =
    Math.hypot(
      (rack.pockets[1]?.x ?? 0) - (rack.pockets[0]?.x ?? 0),
      (rack.pockets[1]?.y ?? 99) - (rack.pockets[0]?.y ?? 0),
    ) *
      to.scale <
    26;
  return (
    <g>
      {rack.pockets.map((pocket) => {
        const [x, y] = [to.atX(pocket.x), to.atY(pocket.y)];
        const tool =
          pocket.tool && pocket.tool !== carried ? scene.tools.find((entry) => entry.number === pocket.tool) : null;
        const radius = rack.nut_radius * to.scale;
        const chosen =
          pocket.tool !== 0 &&
          (pocket.tool === picked || (picked === null && (pocket.tool === pair?.from || pocket.tool === pair?.to)));
        const name = pocket.reserved ? "reserved" : pocket.tool ? `T${pocket.tool}` : "empty";
        return (
          <g
            key={pocket.pocket}
            role="button"
            tabIndex={pocket.tool ? 0 : -1}
            aria-label={`Pocket ${pocket.pocket}, ${name}`}
            aria-disabled={!pocket.tool}
            className={pocket.tool ? "pocket" : ""}
            onClick={() => pocket.tool && useWork.getState().pick(pocket.tool)}
            onKeyDown={(event) => {
              if (event.key === "Enter" && pocket.tool) useWork.getState().pick(pocket.tool);
            }}
          >
            <title>{`Pocket ${pocket.pocket}: ${name}`}</title>
            <circle cx={x} cy={y} r={Math.max(20, radius)} fill="transparent" />
            <path
              d={`M${x - radius - 6} ${y}H${x + radius + 6}M${x} ${y - radius - 6}V${y + radius + 6}`}
              className="line-centre"
            />
            {!pocket.reserved && (
              <>
                <circle
                  cx={x}
                  cy={y}
                  r={radius}
                  fill={tool ? "var(--steel)" : "var(--sheet)"}
                  className="line-outline ring"
                  style={chosen ? { stroke: "var(--now)", strokeWidth: 2.25 } : undefined}
                />
                {tool ? (
                  <>
                    <polygon
                      points={hexagon(x, y, radius * 0.66)}
                      fill="var(--steel-2)"
                      className="line-thin"
                      style={{ stroke: "var(--ink)" }}
                    />
                    <circle
                      cx={x}
                      cy={y}
                      r={Math.max(1.5, tool.radius * to.scale)}
                      fill="var(--tool)"
                      className="line-thin"
                      style={{ stroke: "var(--ink)" }}
                    />
                  </>
                ) : (
                  <circle cx={x} cy={y} r={radius * 0.62} fill="none" className="line-thin" />
                )}
              </>
            )}
            {!dense && (
              <text x={x} y={y - radius - 8} textAnchor="middle" style={{ fontWeight: 600 }}>
                {pocket.pocket}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

function hexagon(x: number, y: number, r: number): string {
  return [0, 1, 2, 3, 4, 5]
    .map((k) => `${x + r * Math.cos((k * Math.PI) / 3)},${y + r * Math.sin((k * Math.PI) / 3)}`)
    .join(" ");
}

export function PlanSpindle({ at, scene, to }: { at: Place; scene: Scene; to: Projection }) {
  const [x, y] = [to.atX(at[0]), to.atY(at[1])];
  const radius = Math.max(...scene.spindle.map((part) => part.radius)) * to.scale;
  return (
    <g pointerEvents="none">
      <circle cx={x} cy={y} r={radius} fill="none" className="line-now" />
      <path
        d={`M${x - radius - 7} ${y}H${x + radius + 7}M${x} ${y - radius - 7}V${y + radius + 7}`}
        className="line-now-thin"
      />
    </g>
  );
}
