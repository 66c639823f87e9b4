/** Where things are at a moment of a trace, by the formulas that it holds. */
import type { MotionLaw, Segment, Trace } from "../api/client";

export type Place = [number, number, number];

/** Way gone after t seconds of a trapezoid, mm. */
export function gone(law: MotionLaw, t: number): number {
  if (t <= 0) return 0;
  if (t >= law.seconds) return law.way;
  if (t < law.ramp) return (law.acceleration * t * t) / 2;
  const rest = law.seconds - t;
  if (rest < law.ramp) return law.way - (law.acceleration * rest * rest) / 2;
  return law.speed * (t - law.ramp / 2);
}

export function along(segment: Segment, t: number): Place {
  const { law, arc, start, end } = segment;
  if (!law || t <= segment.start_seconds) return start as Place;
  if (t >= segment.end_seconds) return end as Place;
  const way = gone(law, t - segment.start_seconds);
  if (arc) {
    const part = way / law.way;
    const angle = arc.start_angle + arc.sweep * part;
    const place: Place = [0, 0, 0];
    const [first, second, upright] = arc.axes as Place;
    place[first] = (arc.centre[0] as number) + arc.radius * Math.cos(angle);
    place[second] = (arc.centre[1] as number) + arc.radius * Math.sin(angle);
    place[upright] = (start[upright] as number) + arc.rise * part;
    return place;
  }
  const part = way / (gone(law, segment.end_seconds - segment.start_seconds) || 1);
  return [0, 1, 2].map((axis) => {
    const from = start[axis] as number;
    return from + ((end[axis] as number) - from) * part;
  }) as Place;
}

export function segmentAt(trace: Trace, t: number): Segment | null {
  let found: Segment | null = null;
  for (const segment of trace.segments) {
    if (segment.start_seconds > t) break;
    found = segment;
  }
  return found ?? trace.segments[0] ?? null;
}

export function placeAt(trace: Trace, t: number): Place | null {
  const segment = segmentAt(trace, t);
  return segment ? along(segment, t) : null;
}

export function heldAt(trace: Trace, t: number): number | null {
  let tool: number | null = trace.holding[0]?.tool ?? 0;
  for (const change of trace.holding) {
    if (change.at_seconds > t + 1e-9) break;
    tool = change.tool;
  }
  return tool;
}

/** The tool that is in the spindle, tight or not: the last one held, or the next where a thread has met. */
export function carriedAt(trace: Trace, t: number): number {
  const held = heldAt(trace, t);
  if (held !== null) return held;
  const before = [...trace.holding].reverse().find((change) => change.at_seconds <= t && change.tool !== null);
  if (before?.tool) return before.tool;
  return trace.holding.find((change) => change.at_seconds > t && change.tool !== null)?.tool ?? 0;
}

export function speedAt(trace: Trace, t: number): number {
  let speed = 0;
  for (const ramp of trace.spindle) {
    if (ramp.start_seconds > t) break;
    const whole = ramp.end_seconds - ramp.start_seconds;
    const part = whole > 0 ? Math.min(1, (t - ramp.start_seconds) / whole) : 1;
    speed = ramp.start_speed + (ramp.end_speed - ramp.start_speed) * part;
  }
  return speed;
}

/** The block that is being run at a moment: the last one that has begun. */
export function blockAt(trace: Trace, t: number): number {
  let found = 0;
  trace.blocks.forEach((block, index) => {
    if (block.start_seconds <= t + 1e-9) found = index;
  });
  return found;
}

/** Values of the parameters after a block. */
export function parametersAt(trace: Trace, block: number): [string, number][] {
  const values = new Map<string, number>();
  for (const entry of trace.blocks.slice(0, block + 1))
    for (const [name, value] of Object.entries(entry.set)) values.set(name, value);
  return [...values].sort(([a], [b]) => a.localeCompare(b, "en", { numeric: true }));
}

/** A lane's curve: points (seconds, mm) close enough together to draw every ramp. */
export function curve(trace: Trace, axis: 0 | 1 | 2): [number, number][] {
  const points: [number, number][] = [];
  for (const segment of trace.segments) {
    const still = segment.start[axis] === segment.end[axis];
    const count = still ? 1 : 14;
    const span = segment.end_seconds - segment.start_seconds;
    for (let index = points.length ? 1 : 0; index <= count; index++) {
      const t = segment.start_seconds + (span * index) / count;
      points.push([t, along(segment, t)[axis]]);
    }
  }
  return points;
}

/** A device's state at a moment: the one it has or goes to, the one before, and how far it is on its way (0 to 1). */
export function deviceAt(trace: Trace, device: string, t: number, rest: string) {
  let found = { was: rest, state: rest, part: 1 };
  for (const move of trace.devices) {
    if (move.device !== device) continue;
    if (move.start_seconds > t + 1e-9) break;
    const whole = move.end_seconds - move.start_seconds;
    const part = whole > 0 ? Math.min(1, Math.max(0, (t - move.start_seconds) / whole)) : 1;
    found = { was: move.was, state: move.state, part };
  }
  return found;
}

/** How far a device is from its rest towards another state: 0 at rest, 1 there. */
export function swungAt(trace: Trace, device: string, t: number, rest: string): number {
  const { was, state, part } = deviceAt(trace, device, t, rest);
  const [from, to] = [was === rest ? 0 : 1, state === rest ? 0 : 1];
  return from + (to - from) * part;
}

/** Tools by pocket at a moment. */
export function storedAt(trace: Trace, t: number): Map<number, number> {
  let found = trace.stored[0]?.pockets ?? [];
  for (const change of trace.stored) {
    if (change.at_seconds > t + 1e-9) break;
    found = change.pockets;
  }
  return new Map(found.map((entry) => [entry.pocket, entry.tool]));
}

/** The pocket in front of a disc at a moment, in between where it turns, by the shorter way. */
export function frontAt(trace: Trace, t: number, count: number): number {
  const { was, state, part } = deviceAt(trace, "turn", t, "1");
  const [from, to] = [Number(was), Number(state)];
  const way = ((((to - from) % count) + count + count / 2) % count) - count / 2;
  return from + way * part;
}
