/** What moves besides the spindle: a disc that swings and turns, an arm; and the pockets as they stand at a moment. */
import type { Magazine, Scene, Trace } from "../../api/client";
import { HeldTool, heldBy, type PocketNow } from "../../drawing/bodies";
import type { Projection } from "../../drawing/projection";
import { frontAt, storedAt, swungAt } from "../../score/evaluate";

type Disc = NonNullable<Magazine["shapes"]["disc"]>;

/** The disc's middle at a moment: between home and the spindle while it swings. */
function middleAt(disc: Disc, trace: Trace | null, time: number): [number, number] {
  const part = trace ? swungAt(trace, "disc", time, "home") : 0;
  return [0, 1].map((axis) => {
    const [home, out] = [disc.home[axis] as number, disc.out[axis] as number];
    return home + (out - home) * (disc.arm_reach ? 0 : part);
  }) as [number, number];
}

/** The pockets where they are at a moment, with what is in them then. */
export function pocketsAt(scene: Scene, trace: Trace | null, time: number): PocketNow[] {
  const { magazine } = scene;
  if (!magazine) return [];
  const stored = trace ? storedAt(trace, time) : null;
  const { disc } = magazine.shapes;
  const middle = disc && middleAt(disc, trace, time);
  const front = disc && trace ? frontAt(trace, time, disc.count) : 1;
  return magazine.pockets.map((pocket) => {
    const tool = stored ? (stored.get(pocket.pocket) ?? 0) : pocket.tool;
    if (!disc || !middle) return { ...pocket, tool };
    const angle = (disc.sense * (pocket.pocket - front) * 2 * Math.PI) / disc.count;
    const [cos, sin] = [Math.cos(angle) * disc.radius, Math.sin(angle) * disc.radius];
    const [wx, wy] = disc.way as [number, number];
    return { ...pocket, tool, x: middle[0] + wx * cos - wy * sin, y: middle[1] + wx * sin + wy * cos };
  });
}

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
  const radius = (disc.radius + magazine.radius) * to.scale;
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
      {disc.arm_reach > 0 && <Arm disc={disc} radius={magazine.radius} trace={trace} time={time} to={to} />}
    </g>
  );
}

/** A tool in one of the arm's hands: where it hangs, mm. */
export interface InHand {
  tool: number;
  x: number;
  y: number;
  z: number;
}

/** The arm's angle in plan, from the spindle's side, at a moment. */
function armAngle(disc: Disc, trace: Trace | null, time: number): number {
  const part = trace ? swungAt(trace, "arm swing", time, "home") : 0;
  const turns = trace?.devices.filter((move) => move.device === "arm turn" && move.start_seconds <= time) ?? [];
  const half = turns.reduce((sum, move) => {
    const whole = move.end_seconds - move.start_seconds || 1;
    return sum + Math.min(1, (time - move.start_seconds) / whole);
  }, 0);
  return Math.atan2(disc.way[1] as number, disc.way[0] as number) + ((1 - part) * Math.PI) / 2 + half * Math.PI;
}

/** What the arm has in its hands while it is down: the tool that was in the spindle, and the one that was in the pot. */
export function handsAt(scene: Scene, trace: Trace | null, time: number, stroke: number): InHand[] {
  const disc = scene.magazine?.shapes.disc;
  if (!scene.magazine || !disc?.arm_reach || !trace) return [];
  const down = swungAt(trace, "arm stroke", time, "up");
  if (down <= 0) return [];
  const angle = armAngle(disc, trace, time);
  const [ex, ey] = disc.exchange as [number, number];
  const [px, py] = [ex - (disc.way[0] as number) * disc.arm_reach, ey - (disc.way[1] as number) * disc.arm_reach];
  const lowered = [...trace.devices]
    .reverse()
    .find((move) => move.device === "arm stroke" && move.state === "down" && move.start_seconds <= time);
  const before = storedAt(trace, (lowered?.start_seconds ?? 0) - 1e-6);
  const during = storedAt(trace, (lowered?.end_seconds ?? 0) + 1e-6);
  const fromPot = [...before].find(([pocket, tool]) => during.get(pocket) !== tool)?.[1] ?? 0;
  const held = [...trace.holding]
    .reverse()
    .find((change) => change.at_seconds <= (lowered?.start_seconds ?? 0) && change.tool !== null);
  const z = scene.magazine.couple_z - stroke * down;
  return [held?.tool ?? 0, fromPot].map((tool, index) => {
    const way = index === 0 ? 1 : -1;
    return { tool, x: px + way * Math.cos(angle) * disc.arm_reach, y: py + way * Math.sin(angle) * disc.arm_reach, z };
  });
}

function Arm(props: { disc: Disc; radius: number; trace: Trace | null; time: number; to: Projection }) {
  const { disc, trace, time, to } = props;
  const [wx, wy] = disc.way as [number, number];
  const [ex, ey] = disc.exchange as [number, number];
  const [px, py] = [ex - wx * disc.arm_reach, ey - wy * disc.arm_reach];
  const angle = armAngle(disc, trace, time);
  const reach = disc.arm_reach * to.scale;
  const [cx, cy] = [to.atX(px), to.atY(py)];
  const hand = (sign: number) => [cx + sign * Math.cos(angle) * reach, cy - sign * Math.sin(angle) * reach] as const;
  const [one, two] = [hand(1), hand(-1)];
  return (
    <g>
      <path d={`M${one[0]} ${one[1]}L${two[0]} ${two[1]}`} stroke="var(--ink)" strokeWidth="7" strokeLinecap="round" />
      <path d={`M${one[0]} ${one[1]}L${two[0]} ${two[1]}`} stroke="var(--part-2)" strokeWidth="4.5" />
      {[one, two].map(([x, y], index) => (
        <circle
          key={index === 0 ? "first" : "second"}
          cx={x}
          cy={y}
          r={props.radius * to.scale}
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
  const half = (magazine.shapes.disc.radius - 0.4 * magazine.radius) * to.scale;
  const top = to.atZ(magazine.couple_z - 6);
  return (
    <rect
      x={middle - half}
      y={top}
      width={2 * half}
      height={14 * to.scale}
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
        return tool && <HeldTool key={hand.tool} tool={tool} held={heldBy(scene, tool)} x={x} z={hand.z} to={to} now />;
      })}
    </g>
  );
}
