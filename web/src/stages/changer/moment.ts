/** Where a changer's things are at a moment of a run: the disc, the pockets, the arm and what is in its hands. */
import type { Magazine, Scene, Trace } from "../../api/client";
import type { PocketNow } from "../../drawing/bodies";
import { frontAt, storedAt, swungAt } from "../../trace/evaluate";

export type Disc = NonNullable<Magazine["shapes"]["disc"]>;

/** The disc's middle at a moment: between home and the spindle while it swings. */
export function middleAt(disc: Disc, trace: Trace | null, time: number): [number, number] {
  const part = trace ? swungAt(trace, "disc", time, "home") : 0;
  return [0, 1].map((axis) => {
    const [home, out] = [disc.home[axis] as number, disc.out[axis] as number];
    return home + (out - home) * (disc.arm ? 0 : part);
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

/** A tool in one of the arm's hands: where it hangs, mm. */
export interface InHand {
  tool: number;
  x: number;
  y: number;
  z: number;
}

/** The arm's angle in plan, from the spindle's side, at a moment. */
export function armAngle(disc: Disc, trace: Trace | null, time: number): number {
  const part = trace ? swungAt(trace, "arm swing", time, "home") : 0;
  const turns = trace?.devices.filter((move) => move.device === "arm turn" && move.start_seconds <= time) ?? [];
  const half = turns.reduce((sum, move) => {
    const whole = move.end_seconds - move.start_seconds || 1;
    return sum + Math.min(1, (time - move.start_seconds) / whole);
  }, 0);
  return Math.atan2(disc.way[1] as number, disc.way[0] as number) + ((1 - part) * Math.PI) / 2 + half * Math.PI;
}

/** What the arm has in its hands while it is down: the tool that was in the spindle, and the one that was in the pot. */
export function handsAt(scene: Scene, trace: Trace | null, time: number): InHand[] {
  const disc = scene.magazine?.shapes.disc;
  if (!scene.magazine || !disc?.arm || !trace) return [];
  const { reach, stroke } = disc.arm;
  const down = swungAt(trace, "arm stroke", time, "up");
  if (down <= 0) return [];
  const angle = armAngle(disc, trace, time);
  const [px, py] = disc.arm.pivot as [number, number];
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
    return { tool, x: px + way * Math.cos(angle) * reach, y: py + way * Math.sin(angle) * reach, z };
  });
}
