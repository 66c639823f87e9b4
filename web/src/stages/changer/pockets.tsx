/** The pockets of the plan, which choose an exchange by two clicks, and the spindle over them. */
import type { Scene } from "../../api/client";
import type { PocketNow } from "../../drawing/bodies";
import type { Projection } from "../../drawing/projection";
import type { Place } from "../../score/evaluate";
import { useWork } from "../../work/store";

export function PlanPockets({ scene, pockets, to }: { scene: Scene; pockets: PocketNow[]; to: Projection }) {
  const magazine = scene.magazine;
  const picked = useWork((work) => work.picked);
  const pair = useWork((work) => work.pair);
  if (!magazine) return null;
  const side = labelSide(pockets, magazine.shapes.disc !== null);
  const [one, two] = pockets;
  const dense = one !== undefined && two !== undefined && Math.hypot(two.x - one.x, two.y - one.y) * to.scale < 26;
  return (
    <g>
      {pockets.map((pocket) => {
        const [x, y] = [to.atX(pocket.x), to.atY(pocket.y)];
        const tool = scene.tools.find((entry) => entry.number === pocket.tool);
        const radius = magazine.radius * to.scale;
        const own = magazine.pockets.find((entry) => entry.pocket === pocket.pocket)?.tool ?? 0;
        const chosen = own !== 0 && (own === picked || (picked === null && (own === pair?.from || own === pair?.to)));
        const name = pocket.reserved ? "reserved" : own ? `T${own}` : "empty";
        return (
          <g
            key={pocket.pocket}
            role="button"
            tabIndex={own ? 0 : -1}
            aria-label={`Pocket ${pocket.pocket}, ${name}`}
            aria-disabled={!own}
            className={own ? "pocket" : ""}
            onClick={() => own && useWork.getState().pick(own)}
            onKeyDown={(event) => {
              if (event.key === "Enter" && own) useWork.getState().pick(own);
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
                    {magazine.holds === "nut" ? (
                      <polygon
                        points={hexagon(x, y, radius * 0.66)}
                        fill="var(--steel-2)"
                        className="line-thin"
                        style={{ stroke: "var(--ink)" }}
                      />
                    ) : (
                      <circle cx={x} cy={y} r={radius * 0.66} fill="var(--steel-2)" className="line-thin" />
                    )}
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
            {(!dense || pocket.pocket % 5 === 1) && (
              <text
                x={x + side(pocket)[0] * (radius + 15)}
                y={y - side(pocket)[1] * (radius + 15) + 5}
                textAnchor="middle"
                style={{ fontWeight: 600 }}
              >
                {pocket.pocket}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** The way from a pocket to where its number stands: outwards on a disc, off the rows on a rack. */
function labelSide(pockets: PocketNow[], disc: boolean): (pocket: PocketNow) => [number, number] {
  const [one, two] = pockets;
  if (!one || !two) return () => [0, 1];
  if (disc) {
    const [mx, my] = [mean(pockets.map((entry) => entry.x)), mean(pockets.map((entry) => entry.y))];
    return (pocket) => unit(pocket.x - mx, pocket.y - my);
  }
  const [ux, uy] = unit(two.x - one.x, two.y - one.y);
  const across = (entry: PocketNow) => ux * (entry.y - one.y) - uy * (entry.x - one.x);
  const next = pockets.find((entry) => Math.abs(across(entry)) > 1);
  const away = next ? -Math.sign(across(next)) : ux >= 0 ? 1 : -1;
  return () => [-uy * away, ux * away];
}

function mean(values: number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}

function unit(x: number, y: number): [number, number] {
  const length = Math.hypot(x, y) || 1;
  return [x / length, y / length];
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
