/** What moves besides the spindle is drawn: a disc that swings and turns, an arm. */
import type { Scene, Trace } from "../../api/client";
import { HeldTool } from "../../drawing/bodies";
import type { Projection } from "../../drawing/projection";
import { armAngle, type Disc, type InHand, middleAt } from "./moment";

interface DiscProps {
  scene: Scene;
  trace: Trace | null;
  time: number;
  to: Projection;
}

/** The disc in plan: where it is, and dashed where it swings to; an arm between its ready place and the spindle. */
export function PlanDisc({ scene, trace, time, to }: DiscProps) {
  const { magazine } = scene;
  if (!magazine?.shapes.disc) return null;
  const { disc } = magazine.shapes;
  const radius = disc.rim * to.scale;
  const [x, y] = middleAt(disc, trace, time);
  const [ex, ey] = disc.exchange as [number, number];
  return (
    <g>
      {[disc.home, disc.out].map((place, index) => (
        <circle
          key={index === 0 ? "home" : "out"}
          cx={to.atX(place[0] as number)}
          cy={to.atY(place[1] as number)}
          r={radius}
          fill="none"
          className="line-hidden"
        />
      ))}
      <circle cx={to.atX(x)} cy={to.atY(y)} r={radius} fill="var(--part)" className="line-outline" />
      <circle
        cx={to.atX(x)}
        cy={to.atY(y)}
        r={Math.max(4, radius * 0.08)}
        className="line-outline"
        fill="var(--sheet)"
      />
      <path d={`M${to.atX(ex) - 14} ${to.atY(ey)}h28M${to.atX(ex)} ${to.atY(ey) - 14}v28`} className="line-centre">
        <title>the exchange place</title>
      </path>
      {disc.arm && <Arm disc={disc} arm={disc.arm} trace={trace} time={time} to={to} />}
    </g>
  );
}

interface ArmProps {
  disc: Disc;
  arm: NonNullable<Disc["arm"]>;
  trace: Trace | null;
  time: number;
  to: Projection;
}

function Arm({ disc, arm, trace, time, to }: ArmProps) {
  const [px, py] = arm.pivot as [number, number];
  const angle = armAngle(disc, trace, time);
  const reach = arm.reach * to.scale;
  const wide = 2 * arm.bar.radius * to.scale;
  const [cx, cy] = [to.atX(px), to.atY(py)];
  const hand = (sign: number) => [cx + sign * Math.cos(angle) * reach, cy - sign * Math.sin(angle) * reach] as const;
  const [one, two] = [hand(1), hand(-1)];
  return (
    <g>
      <path d={`M${one[0]} ${one[1]}L${two[0]} ${two[1]}`} stroke="var(--ink)" strokeWidth={wide + 2.5} />
      <path d={`M${one[0]} ${one[1]}L${two[0]} ${two[1]}`} stroke="var(--part-2)" strokeWidth={wide} />
      {[one, two].map(([x, y], index) => (
        <circle
          key={index === 0 ? "first" : "second"}
          cx={x}
          cy={y}
          r={arm.hand.radius * to.scale}
          fill="none"
          className="line-outline"
        />
      ))}
      <circle cx={cx} cy={cy} r="5" fill="var(--sheet)" className="line-outline" />
    </g>
  );
}

/** The disc in an upright view: its plate below the gauge line of what hangs in it. */
export function UprightDisc({ scene, trace, time, to, view }: DiscProps & { view: "front" | "side" }) {
  const { magazine } = scene;
  if (!magazine?.shapes.disc) return null;
  const [x, y] = middleAt(magazine.shapes.disc, trace, time);
  const middle = view === "front" ? to.atX(x) : to.atS(y);
  const { plate } = magazine.shapes.disc;
  const half = plate.radius * to.scale;
  return (
    <rect
      x={middle - half}
      y={to.atZ(magazine.couple_z + plate.high)}
      width={2 * half}
      height={(plate.high - plate.low) * to.scale}
      fill="var(--part)"
      className="line-outline"
    />
  );
}

/** The tools in the arm's hands, in plan. */
export function PlanHands({ hands, scene, to }: { hands: InHand[]; scene: Scene; to: Projection }) {
  return (
    <g pointerEvents="none">
      {hands.map(
        (hand) =>
          hand.tool > 0 && (
            <g key={hand.tool}>
              <circle
                cx={to.atX(hand.x)}
                cy={to.atY(hand.y)}
                r={(scene.magazine?.radius ?? 20) * to.scale}
                fill="var(--steel)"
                className="line-now"
              />
              <text x={to.atX(hand.x)} y={to.atY(hand.y) + 26} textAnchor="middle" style={{ fontWeight: 600 }}>
                T{hand.tool}
              </text>
            </g>
          ),
      )}
    </g>
  );
}

/** The tools in the arm's hands, hanging as low as the arm is. */
export function UprightHands(props: { hands: InHand[]; scene: Scene; to: Projection; view: "front" | "side" }) {
  const { hands, scene, to, view } = props;
  return (
    <g>
      {hands.map((hand) => {
        const tool = scene.tools.find((entry) => entry.number === hand.tool);
        const x = view === "front" ? to.atX(hand.x) : to.atS(hand.y);
        return tool && <HeldTool key={hand.tool} tool={tool} magazine={scene.magazine} x={x} z={hand.z} to={to} now />;
      })}
    </g>
  );
}
