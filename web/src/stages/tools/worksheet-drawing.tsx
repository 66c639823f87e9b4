/** What touches what in a worksheet, to scale: the tools in their places over the surface, and each term where it is. */
import type { Tool } from "../../api/client";
import { useSize } from "../../common/use-size";
import { useUnit } from "../../fields/rows";
import { shown } from "../../quantity/format";
import { wholeLength } from "../../readings/lengths";
import { type Points, pathOf, useOutlines } from "./outlines";
import type { Typed, Way } from "./worksheet";

const HEIGHT = 330;
const [TOP, BOTTOM] = [34, 60];

interface Props {
  way: Way;
  tool: Tool;
  reference: Tool | undefined;
  typed: Typed;
}

export function WorksheetDrawing({ way, tool, reference, typed }: Props) {
  const { element, width } = useSize<HTMLDivElement>();
  const unit = useUnit();
  const drawn = way === "difference" && reference ? [reference, tool] : [tool];
  const outlines = useOutlines(drawn);
  const longest = Math.max(...drawn.map(wholeLength));
  const scale = (HEIGHT - TOP - BOTTOM) / (longest + 12);
  const surface = HEIGHT - BOTTOM;
  const shim = way === "presetter" || way === "setter" ? 0 : Math.max(typed.shim * scale, typed.shim > 0 ? 4 : 0);
  const place = (at: number) => (drawn.length === 1 ? width / 2 - 20 : 100 + at * (width - 210));
  const mm = (value: number) => shown(value, "length", unit, true);
  return (
    <div ref={element} data-drawing className="min-h-[330px] border border-rule bg-sheet">
      {width > 200 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={SAYS[way]}>
          <path d={`M20 ${surface}H${width - 20}`} className="line-outline" />
          <path d={hatch(width, surface)} className="line-thin" />
          <text x="24" y={surface + 26} className="caption">
            {FOOT[way] ?? `the surface, zeroed in work offset ${typed.offset}`}
          </text>
          {drawn.map((entry, at) => (
            <Standing
              key={entry.number}
              tool={entry}
              points={outlines.get(entry.number) ?? []}
              x={place(at)}
              foot={surface - (entry === tool ? shim : 0)}
              scale={scale}
              now={entry === tool}
              text={`T${entry.number} ${entry === tool ? "L = ?" : mm(wholeLength(entry))}`}
            />
          ))}
          {shim > 0 && <Shim x={place(drawn.length - 1)} surface={surface} high={shim} text={mm(typed.shim)} />}
          <Readout
            way={way}
            tools={drawn}
            x={place}
            surface={surface}
            scale={scale}
            value={typed.value}
            shim={shim}
            text={mm}
          />
        </svg>
      )}
    </div>
  );
}

const FOOT: Partial<Record<Way, string>> = { presetter: "the presetter's stop", setter: "the setter's plane" };

const SAYS: Record<Way, string> = {
  setter: "The tip on the setter's plane; machine Z is where the gauge line is",
  difference:
    "The reference tool and this tool over the same surface; the readout is the difference of their gauge lines",
  surface: "The tip on the surface; machine Z is where the gauge line is",
  presetter: "The tool on the presetter, from its gauge line to the tip",
};

function Shim({ x, surface, high, text }: { x: number; surface: number; high: number; text: string }) {
  return (
    <g>
      <rect x={x - 26} y={surface - high} width="52" height={high} fill="var(--now-wash)" className="line-now" />
      <text x={x + 32} y={surface - high - 6} className="caption">
        − shim {text}
      </text>
    </g>
  );
}

function hatch(width: number, y: number): string {
  const strokes = Array.from({ length: Math.floor((width - 40) / 14) }, (_, at) => `M${26 + at * 14} ${y + 10}l8 -10`);
  return strokes.join("");
}

interface StandingProps {
  tool: Tool;
  points: Points;
  x: number;
  foot: number;
  scale: number;
  now: boolean;
  text: string;
}

/** A tool with its tip at `foot`, its gauge line above it. */
function Standing({ tool, points, x, foot, scale, now, text }: StandingProps) {
  const gauge = foot - wholeLength(tool) * scale;
  const low = gauge + (wholeLength(tool) - tool.stick_out) * scale;
  const half = Math.max(14, (tool.diameter / 2) * scale + 6);
  return (
    <g>
      <rect x={x - half} y={gauge} width={2 * half} height={low - gauge} fill="var(--steel)" className="line-thin" />
      <path d={pathOf(points, x, gauge, scale)} fill="var(--tool)" className={now ? "line-now" : "line-outline"} />
      <path d={`M${x - 46} ${gauge}H${x + 46}`} className="line-level" />
      <text x={x} y={gauge - 8} textAnchor="middle" style={{ fontWeight: 600, fill: now ? "var(--now)" : undefined }}>
        {text}
      </text>
    </g>
  );
}

const NAMES: Record<Way, string> = {
  setter: "+ machine Z − plane",
  difference: "+ readout",
  surface: "+ machine Z − surface",
  presetter: "+ presetter",
};

interface ReadoutProps {
  way: Way;
  tools: Tool[];
  x: (at: number) => number;
  surface: number;
  scale: number;
  value: number | null;
  shim: number;
  text: (value: number) => string;
}

/** The measured distance: between the gauge lines of two tools, or from the surface up to that of one. */
function Readout({ way, tools, x, surface, scale, value, shim, text }: ReadoutProps) {
  const last = tools.length - 1;
  const tool = tools[last] as Tool;
  const gauge = surface - shim - wholeLength(tool) * scale;
  const from = way === "difference" && tools[0] ? surface - wholeLength(tools[0]) * scale : surface;
  const at = way === "difference" ? x(0) + 58 : x(last) + 66;
  const name = NAMES[way];
  return (
    <g>
      <path
        d={`M${at} ${from}V${gauge}M${at - 5} ${from}h10M${at - 5} ${gauge}h10`}
        style={{ stroke: "var(--dim)" }}
        fill="none"
      />
      {way === "difference" && (
        <path d={`M${x(0) + 46} ${from}H${at}M${x(last) - 46} ${gauge}H${at}`} className="line-dimension" fill="none" />
      )}
      <text x={at + 8} y={(from + gauge) / 2 + 5} className="dimension-text">
        {name} {value === null ? "?" : text(value)}
      </text>
    </g>
  );
}
