/** Where each lane of the score stands: they share the height that there is, and what does not move is thin. */
import type { Trace } from "../api/client";
import { type SignalLane, signalLanes } from "./signals";

export interface Lane {
  top: number;
  height: number;
}

export interface Lanes {
  axes: [Lane, Lane, Lane];
  spindle: Lane;
  tool: Lane;
  /** of each device and input, one after the other */
  signals: Lane[];
  bottom: number;
}

/** px: what a lane has where there is room, and what it needs at least */
type Size = readonly [wanted: number, least: number];
const STILL: Size = [18, 10];
const AXES: readonly [Size, Size, Size] = [
  [26, 12],
  [24, 12],
  [46, 18],
];
const SPINDLE: Size = [22, 12];
const TOOL: Size = [18, 13];
const SIGNAL: Size = [19, 11];
/** px: the seconds above the lanes, and what is left free below; between lanes */
const ABOVE = 30;
const BELOW = 8;
const BETWEEN: Size = [5, 2];
/** px: a score that needs more is scrolled */
const MOST = 336;

const moves = (trace: Trace, axis: 0 | 1 | 2) =>
  trace.segments.some((segment) => segment.start[axis] !== segment.end[axis]);

function sizes(trace: Trace, signals: SignalLane[]): Size[] {
  const axes = AXES.map((size, axis) => (moves(trace, axis as 0 | 1 | 2) ? size : STILL));
  const turns = trace.spindle.some((ramp) => ramp.end_speed !== 0);
  return [...axes, turns ? SPINDLE : STILL, TOOL, ...signals.map(() => SIGNAL)];
}

const sum = (values: number[]) => values.reduce((all, one) => all + one, 0);

/** The height at which all lanes of a trace are seen, px: no less than `usual`, no more than a sheet can spare. */
export function scoreHeight(trace: Trace | null, usual: number): number {
  if (!trace) return usual;
  const every = sizes(trace, signalLanes(trace));
  const needed = ABOVE + BELOW + sum(every.map(([, least]) => least + BETWEEN[1]));
  return Math.min(MOST, Math.max(usual, needed));
}

export function lanesOf(trace: Trace, signals: SignalLane[], height: number): Lanes {
  const every = sizes(trace, signals);
  const room = height - ABOVE - BELOW;
  const wanted = sum(every.map(([most]) => most + BETWEEN[0]));
  const least = sum(every.map(([, few]) => few + BETWEEN[1]));
  const share = Math.min(1, Math.max(0, (room - least) / (wanted - least)));
  const between = ([most, few]: Size) => few + share * (most - few);
  let top = ABOVE;
  const lanes = every.map((size): Lane => {
    const lane = { top, height: between(size) };
    top += lane.height + between(BETWEEN);
    return lane;
  });
  const [x, y, z, spindle, tool, ...rest] = lanes as [Lane, Lane, Lane, Lane, Lane, ...Lane[]];
  return { axes: [x, y, z], spindle, tool, signals: rest, bottom: top };
}
