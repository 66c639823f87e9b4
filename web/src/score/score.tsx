/** The score: a lane for each axis, the spindle, and the tool with the stretch in which its record is doubtful;
 * below them what is switched and what answers. */
import { type ScaleLinear, scaleLinear } from "d3-scale";
import { Pause, Play, SkipBack, SkipForward } from "lucide-react";
import { useEffect, useMemo } from "react";
import type { Trace } from "../api/client";
import { useSize } from "../common/use-size";
import { fixed } from "../quantity/format";
import { playedAs } from "../sequences";
import { curve } from "../trace/evaluate";
import { useTrace } from "../work/document";
import { play, seek, step, usePlayback } from "../work/playback";
import { useSelection } from "../work/selection";

import { type Lane, type Lanes as LaneRooms, lanesOf } from "./lanes";
import { SignalLanes, signalLanes } from "./signals";

const NAMES = ["X", "Y", "Z"] as const;
const LEFT = 150;
const RIGHT = 16;

export function Score() {
  const trace = useTrace();
  const playing = usePlayback((work) => work.playing);
  const stage = useSelection((work) => work.stage);
  const { element, width, height } = useSize<HTMLDivElement>();
  usePlaying(playing, trace);
  return (
    <div ref={element} className="h-full" data-drawing data-score>
      <Transport />
      {trace ? (
        width > 0 && (
          <div className="h-full overflow-x-hidden overflow-y-auto">
            <Lanes trace={trace} width={width} room={height} />
          </div>
        )
      ) : (
        <p className="absolute top-4 left-40 text-ink-2">{playedAs(stage)?.none}</p>
      )}
    </div>
  );
}

function usePlaying(playing: boolean, trace: Trace | null) {
  useEffect(() => {
    if (!playing || !trace) return;
    let frame = 0;
    let last = performance.now();
    const tick = (now: number) => {
      const { time } = usePlayback.getState();
      const next = time + (now - last) / 1000;
      last = now;
      seek(next);
      if (next >= trace.seconds) play(false);
      else frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
  }, [playing, trace]);
}

function Transport() {
  const playing = usePlayback((work) => work.playing);
  const can = useTrace() !== null;
  return (
    <div className="absolute top-2 left-2 z-10 flex">
      <button
        type="button"
        className="button plain w-10 px-0!"
        disabled={!can}
        onClick={() => step(-1)}
        title="Previous block (←)"
        aria-label="Previous block"
      >
        <SkipBack size={16} />
      </button>
      <button
        type="button"
        className="button first w-10 px-0!"
        disabled={!can}
        onClick={() => play(!playing)}
        title="Play or pause (space)"
        aria-label={playing ? "Pause" : "Play"}
      >
        {playing ? <Pause size={16} /> : <Play size={16} />}
      </button>
      <button
        type="button"
        className="button plain w-10 px-0!"
        disabled={!can}
        onClick={() => step(1)}
        title="Next block (→)"
        aria-label="Next block"
      >
        <SkipForward size={16} />
      </button>
    </div>
  );
}

function Lanes({ trace, width, room }: { trace: Trace; width: number; room: number }) {
  const seconds = Math.max(trace.seconds, 0.001);
  const across = Math.max(40, width - LEFT - RIGHT); // a window may be drawn so narrow that nothing is left
  const x = scaleLinear([0, seconds], [LEFT, LEFT + across]);
  const lanes = useMemo(() => lanesOf(trace, signalLanes(trace), room), [trace, room]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: x follows from trace and width
  const still = useMemo(
    () => <StillLanes trace={trace} lanes={lanes} x={x} right={width - RIGHT} />,
    [trace, lanes, width],
  );
  const height = Math.max(lanes.bottom, room - 1);
  const scrub = (event: React.PointerEvent<SVGRectElement>) => {
    if (event.type === "pointermove" && event.buttons === 0) return;
    const left = event.currentTarget.ownerSVGElement?.getBoundingClientRect().left ?? 0;
    play(false);
    seek(((event.clientX - left - LEFT) / across) * seconds);
  };
  return (
    <svg width={width} height={height} role="group" aria-label="Time chart of the exchange" tabIndex={-1} data-plays>
      <title>Time chart</title>
      {still}
      <rect
        x={LEFT - 8}
        y="0"
        width={across + 16}
        height={height}
        fill="transparent"
        style={{ cursor: "ew-resize", touchAction: "none" }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          scrub(event);
        }}
        onPointerMove={scrub}
        data-scrub
      />
      <NowLine x={x} right={width} bottom={height - 6} />
    </svg>
  );
}

function NowLine({ x, right, bottom }: { x: (t: number) => number; right: number; bottom: number }) {
  const time = usePlayback((work) => work.time);
  const at = x(time);
  const label = Math.max(LEFT + 8, Math.min(at, right - 24)); // clear of the buttons, and within the chart
  return (
    <g pointerEvents="none">
      <path d={`M${at} 14V${bottom}`} stroke="var(--now)" strokeWidth="1.8" />
      <rect x={label - 26} y="0" width="52" height="27" fill="var(--panel)" />
      <rect x={label - 24} y="2" width="48" height="19" rx="2" fill="var(--now)" />
      <text x={label} y="16" textAnchor="middle" style={{ fill: "var(--sheet)", fontWeight: 600 }} data-time>
        {fixed(time, 2)} s
      </text>
    </g>
  );
}

interface StillProps {
  trace: Trace;
  lanes: LaneRooms;
  x: ScaleLinear<number, number>;
  right: number;
}

function StillLanes({ trace, lanes, x, right }: StillProps) {
  const { axes, spindle, tool } = lanes;
  return (
    <g>
      <defs>
        <pattern id="doubt" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line y2="6" stroke="var(--warn)" strokeWidth="2" />
        </pattern>
      </defs>
      {x.ticks(12).map((t) => (
        <g key={t}>
          <path d={`M${x(t)} 28V${lanes.bottom}`} stroke="var(--rule-2)" />
          <text x={x(t)} y="24" textAnchor="middle" className="caption">
            {t} s
          </text>
        </g>
      ))}
      {NAMES.map((name, axis) => (
        <Curve
          key={name}
          trace={trace}
          axis={axis as 0 | 1 | 2}
          name={name}
          lane={axes[axis as 0 | 1 | 2]}
          x={x}
          right={right}
        />
      ))}
      <LaneName {...spindle} name="Spindle" right={right} />
      <Turning trace={trace} lane={spindle} x={x} />
      <LaneName {...tool} name="Tool" right={right} />
      <Record trace={trace} lane={tool} x={x} />
      <SignalLanes lanes={signalLanes(trace)} rooms={lanes.signals} left={LEFT} right={right} x={x} />
    </g>
  );
}

/** px: a text fits into a lane of this height */
const fitting = (height: number) => Math.min(14, Math.max(10.5, height));

function LaneName({ top, height, name, right }: Lane & { name: string; right: number }) {
  const size = fitting(height);
  return (
    <g>
      <text
        x={LEFT - 10}
        y={top + height / 2 + size * 0.36}
        textAnchor="end"
        style={{ fill: "var(--ink-2)", fontSize: size }}
      >
        {name}
      </text>
      <path d={`M${LEFT} ${top + height + 2}H${right}`} stroke="var(--rule)" strokeWidth="0.8" />
    </g>
  );
}

function Curve(props: {
  trace: Trace;
  axis: 0 | 1 | 2;
  name: string;
  lane: Lane;
  x: (t: number) => number;
  right: number;
}) {
  const { trace, axis, lane, x } = props;
  const points = curve(trace, axis);
  const values = points.map(([, value]) => value);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const y = (value: number) =>
    lane.top + lane.height - ((value - low) / Math.max(1e-6, high - low)) * (lane.height - 4) - 1;
  const last = values.at(-1) ?? 0;
  const line = [...points, [trace.seconds, last] as [number, number]]
    .map(([t, value]) => `${x(t).toFixed(1)},${y(value).toFixed(1)}`)
    .join(" ");
  return (
    <g>
      <LaneName {...lane} name={props.name} right={props.right} />
      <polyline points={line} fill="none" stroke="var(--ink)" strokeWidth="1.7" />
    </g>
  );
}

function Turning({ trace, lane, x }: { trace: Trace; lane: Lane; x: (t: number) => number }) {
  const stretches = trace.spindle
    .map((ramp, index) => ({
      speed: ramp.end_speed,
      start: ramp.start_seconds,
      end: trace.spindle[index + 1]?.end_seconds ?? trace.seconds,
    }))
    .filter((stretch) => stretch.speed !== 0);
  return (
    <g>
      {stretches.map(({ speed, start, end }) => {
        const forwards = speed > 0;
        const height = forwards ? lane.height : lane.height / 2;
        const size = Math.min(13, lane.height);
        const wide = x(end) - x(start);
        return (
          <g key={start}>
            <rect
              x={x(start)}
              y={lane.top + lane.height - height}
              width={wide}
              height={height}
              fill={forwards ? "var(--warn-wash)" : "var(--steel)"}
              stroke={forwards ? "var(--warn)" : "var(--ink-2)"}
            />
            <text
              x={x(start) + wide / 2}
              y={lane.top + (forwards ? lane.height / 2 + size * 0.36 : lane.height / 2 - 1)}
              textAnchor="middle"
              className="caption"
              style={{ fontSize: size }}
            >
              {forwards ? fixed(speed, 0) : `back ${fixed(-speed, 0)}`}
            </text>
          </g>
        );
      })}
    </g>
  );
}

interface Stretch {
  start: number;
  end: number;
  record: number;
  doubtful: boolean;
}

function recorded(trace: Trace): Stretch[] {
  const stretches: Stretch[] = [];
  let start = 0;
  let [record, doubtful] = [trace.blocks[0]?.record ?? 0, false];
  for (const block of trace.blocks) {
    if (block.record === record && block.doubtful === doubtful) continue;
    if (block.end_seconds > start) stretches.push({ start, end: block.end_seconds, record, doubtful });
    [start, record, doubtful] = [block.end_seconds, block.record, block.doubtful];
  }
  stretches.push({ start, end: trace.seconds, record, doubtful });
  return stretches;
}

function Record({ trace, lane, x }: { trace: Trace; lane: Lane; x: (t: number) => number }) {
  const size = fitting(lane.height - 3);
  return (
    <g>
      {recorded(trace).map(({ start, end, record, doubtful }) => {
        const wide = Math.max(0, x(end) - x(start));
        const fill = doubtful ? "url(#doubt)" : record ? "var(--steel)" : "var(--sheet)";
        return (
          <g key={start}>
            <rect
              x={x(start)}
              y={lane.top}
              width={wide}
              height={lane.height - 2}
              fill={fill}
              stroke={doubtful ? "var(--warn)" : "var(--ink-3)"}
            />
            {!doubtful && wide > 40 && (
              <text
                x={x(start) + wide / 2}
                y={lane.top + lane.height / 2 - 1 + size * 0.36}
                textAnchor="middle"
                className={record ? "" : "caption"}
                style={{ fontSize: size }}
              >
                {record ? `T${record}` : "empty"}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}
