/** The pockets of the plan, which choose an exchange by two clicks, and the spindle over them. */
import type { Scene } from "../../api/client";
import { handOver } from "../../common/hand-over";
import type { PocketNow } from "../../drawing/bodies";
import type { Projection } from "../../drawing/projection";
import type { Place } from "../../trace/evaluate";
import { pickTool } from "../../work/choosing";
import { useSelection } from "../../work/selection";
import { hexagon, isCounted, isDense, labelSide } from "./plan-geometry";

export function PlanPockets({ scene, pockets, to }: { scene: Scene; pockets: PocketNow[]; to: Projection }) {
  const magazine = scene.magazine;
  if (!magazine) return null;
  const side = labelSide(pockets, magazine.shapes.disc !== null);
  const dense = isDense(pockets, to.scale);
  return (
    <g>
      {pockets.map((pocket) => (
        <PlanPocket
          key={pocket.pocket}
          pocket={pocket}
          magazine={magazine}
          diameter={2 * (scene.tools.find((entry) => entry.number === pocket.tool)?.radius ?? 0)}
          to={to}
          number={!dense || isCounted(pocket, pockets) ? side(pocket) : null}
        />
      ))}
    </g>
  );
}

type Magazine = NonNullable<Scene["magazine"]>;

interface PocketProps {
  pocket: PocketNow;
  magazine: Magazine;
  /** of the tool that is in it, mm */
  diameter: number;
  to: Projection;
  /** the way to where its number stands; null: it has no room */
  number: [number, number] | null;
}

function PlanPocket({ pocket, magazine, diameter, to, number }: PocketProps) {
  const picked = useSelection((work) => work.picked);
  const pair = useSelection((work) => work.pair);
  const [x, y] = [to.atX(pocket.x), to.atY(pocket.y)];
  const radius = magazine.radius * to.scale;
  const own = magazine.pockets.find((entry) => entry.pocket === pocket.pocket)?.tool ?? 0;
  const chosen = own !== 0 && (own === picked || (picked === null && (own === pair?.from || own === pair?.to)));
  const name = pocket.reserved ? "reserved" : own ? `T${own}` : "empty";
  const pick = () => own && pickTool(own);
  return (
    <g
      role="button"
      tabIndex={own ? 0 : -1}
      aria-label={`Pocket ${pocket.pocket}, ${name}`}
      aria-disabled={!own}
      className={own ? "pocket" : ""}
      onClick={() => {
        pick();
        if (picked !== null) handOver(); // the exchange is chosen: Space plays it
      }}
      onKeyDown={(event) => event.key === "Enter" && pick()}
    >
      <title>{`Pocket ${pocket.pocket}: ${name}`}</title>
      <circle cx={x} cy={y} r={Math.max(20, radius)} fill="transparent" />
      <path
        d={`M${x - radius - 6} ${y}H${x + radius + 6}M${x} ${y - radius - 6}V${y + radius + 6}`}
        className="line-centre"
      />
      {!pocket.reserved && (
        <circle
          cx={x}
          cy={y}
          r={radius}
          fill={diameter ? "var(--steel)" : "var(--sheet)"}
          className="line-outline ring"
          style={chosen ? { stroke: "var(--now)", strokeWidth: 2.25 } : undefined}
        />
      )}
      {!pocket.reserved && <Held x={x} y={y} radius={radius} holds={magazine.holds} bore={(diameter / 2) * to.scale} />}
      {number && (
        <text
          x={x + number[0] * (radius + 15)}
          y={y - number[1] * (radius + 15) + 5}
          textAnchor="middle"
          className="clear"
          style={{ fontWeight: 600, transformOrigin: `${50 - 50 * number[0]}% ${50 + 50 * number[1]}%` }}
        >
          {pocket.pocket}
        </text>
      )}
    </g>
  );
}

/** What hangs in a pocket, from above: nut or holder, and the tool (its radius in pixels; 0: the pocket is empty). */
function Held(props: { x: number; y: number; radius: number; holds: string; bore: number }) {
  const { x, y, radius, holds, bore } = props;
  if (!bore) return <circle cx={x} cy={y} r={radius * 0.62} fill="none" className="line-thin" />;
  const ink = { stroke: "var(--ink)" };
  return (
    <>
      {holds === "nut" ? (
        <polygon points={hexagon(x, y, radius * 0.66)} fill="var(--steel-2)" className="line-thin" style={ink} />
      ) : (
        <circle cx={x} cy={y} r={radius * 0.66} fill="var(--steel-2)" className="line-thin" />
      )}
      <circle cx={x} cy={y} r={Math.max(1.5, bore)} fill="var(--tool)" className="line-thin" style={ink} />
    </>
  );
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
