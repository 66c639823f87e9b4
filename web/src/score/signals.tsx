/** The lanes of what is switched and what answers: the changer's devices, and the inputs that change while a sequence runs. */
import type { Trace } from "../api/client";
import type { Lane } from "./lanes";

interface Stretch {
  start: number;
  end: number;
  text: string;
}

export interface SignalLane {
  name: string;
  kind: "device" | "input";
  held: Stretch[];
  moving: Stretch[];
}

/** A lane for each device that moves, and for each input that changes. */
export function signalLanes(trace: Trace): SignalLane[] {
  const names = [...new Set(trace.devices.map((move) => move.device))];
  const devices = names.map((name): SignalLane => {
    const moves = trace.devices.filter((move) => move.device === name);
    const said = (state: string) => (name === "turn" && state !== "in place" ? `pocket ${state}` : state);
    return {
      name: name === "turn" ? "disc turns" : name,
      kind: "device",
      moving: moves.map((move) => ({ start: move.start_seconds, end: move.end_seconds, text: "" })),
      held: moves.map((move, index) => ({
        start: move.end_seconds,
        end: moves[index + 1]?.start_seconds ?? trace.seconds,
        text: said(move.state),
      })),
    };
  });
  const all = new Set(trace.inputs.flatMap((seen) => seen.made));
  const inputs = [...all].map((name): SignalLane => {
    const held: Stretch[] = [];
    trace.inputs.forEach((seen, index) => {
      if (!seen.made.includes(name)) return;
      const end = trace.inputs[index + 1]?.at_seconds ?? trace.seconds;
      const last = held.at(-1);
      if (last && last.end === seen.at_seconds) last.end = end;
      else held.push({ start: seen.at_seconds, end, text: "" });
    });
    return { name, kind: "input", moving: [], held };
  });
  const changes = (lane: SignalLane) =>
    lane.held.length > 1 || (lane.held[0]?.end ?? 0) - (lane.held[0]?.start ?? 0) < trace.seconds;
  return [...devices, ...inputs.filter(changes)];
}

interface Props {
  lanes: SignalLane[];
  rooms: Lane[];
  left: number;
  right: number;
  x: (t: number) => number;
}

export function SignalLanes({ lanes, rooms, left, right, x }: Props) {
  return (
    <g>
      {lanes.map((lane, index) => {
        const { top, height } = rooms[index] as Lane;
        const base = top + height;
        const size = Math.min(13, Math.max(10.5, height));
        return (
          <g key={`${lane.kind} ${lane.name}`} data-lane={lane.name}>
            <text
              x={left - 10}
              y={top + height / 2 + size * 0.36}
              textAnchor="end"
              style={{ fill: "var(--ink-2)", fontSize: size }}
            >
              {lane.name}
            </text>
            <path d={`M${left} ${base}H${right}`} stroke="var(--rule)" strokeWidth="0.8" />
            {lane.moving.map((stretch) => (
              <path
                key={stretch.start}
                d={`M${x(stretch.start)} ${base}L${x(stretch.end)} ${top}V${base}Z`}
                fill="var(--now-wash)"
                stroke="var(--now)"
                strokeWidth="0.9"
              />
            ))}
            {lane.held.map((stretch) => {
              const wide = Math.max(1, x(stretch.end) - x(stretch.start));
              return (
                <g key={stretch.start}>
                  <rect
                    x={x(stretch.start)}
                    y={top}
                    width={wide}
                    height={height}
                    fill={lane.kind === "device" ? "var(--part)" : "var(--steel)"}
                    stroke="var(--ink-3)"
                    strokeWidth="0.8"
                  />
                  {stretch.text && wide > 9 * stretch.text.length && (
                    <text
                      x={x(stretch.start) + wide / 2}
                      y={top + height / 2 + size * 0.34}
                      textAnchor="middle"
                      style={{ fontSize: size - 0.5 }}
                    >
                      {stretch.text}
                    </text>
                  )}
                </g>
              );
            })}
          </g>
        );
      })}
    </g>
  );
}
