/** One tool in what holds it, with its dimensions; the one that is in focus is named and drawn in the accent. */
import type { Tool } from "../../api/client";
import { useSize } from "../../common/use-size";
import { useUnit } from "../../fields/rows";
import { shown } from "../../quantity/format";
import { wholeLength } from "../../readings/lengths";
import { usePreview } from "../../work/document";
import { useSelection } from "../../work/selection";
import { pathOf, useOutlines } from "./outlines";

const HEIGHT = 250;
const [TOP, BOTTOM] = [26, 34];

interface Mark {
  field: string;
  name: string;
  text: string;
  /** from and to, down the sheet, px; across where `wide` */
  from: number;
  to: number;
  wide?: boolean;
}

export function PageDrawing({ tool, index }: { tool: Tool; index: number }) {
  const { element, width } = useSize<HTMLDivElement>();
  const unit = useUnit();
  const focus = useSelection((work) => work.focus) ?? "";
  const held = usePreview((answer) => answer?.scene?.tools.find((entry) => entry.number === tool.number)?.parts);
  const points = useOutlines([tool]).get(tool.number) ?? [];
  const parts = held?.slice(0, -1) ?? [];
  const whole = wholeLength(tool);
  const above = Math.max(0, ...parts.map((part) => part.high));
  const widest = Math.max(tool.diameter / 2, ...parts.map((part) => part.radius));
  const scale = Math.min((HEIGHT - TOP - BOTTOM) / (whole + above), (width - 230) / (2 * widest));
  const gauge = TOP + above * scale;
  const x = width / 2 - 18;
  const tip = gauge + whole * scale;
  const field = focus.startsWith(`/tools/${index}/`) ? (focus.split("/")[3] ?? "") : "";
  const marks = marksOf(tool, { gauge, tip, x, scale }, (value) => shown(value, "length", unit, true));
  if (width < 200) return <div ref={element} style={{ height: HEIGHT }} />;
  return (
    <div ref={element} data-drawing className="border-b border-rule bg-sheet" style={{ height: HEIGHT }}>
      <svg width={width} height={HEIGHT} role="img" aria-label={`T${tool.number} to scale`}>
        <path d={`M16 ${gauge}H${width - 16}`} className="line-level" />
        <text x="16" y={gauge - 5} className="caption">
          gauge line
        </text>
        {parts.map((part) => (
          <rect
            key={`${part.low} ${part.high}`}
            x={x - part.radius * scale}
            y={gauge - part.high * scale}
            width={2 * part.radius * scale}
            height={(part.high - part.low) * scale}
            fill="var(--steel)"
            className="line-outline"
          />
        ))}
        <path d={pathOf(points, x, gauge, scale)} fill="var(--tool)" className="line-outline" />
        <path d={`M${x} ${TOP - 10}V${tip + 8}`} className="line-centre" />
        {marks.map((mark, at) => (
          <Dimension
            key={mark.field}
            mark={mark}
            x={x}
            at={at}
            half={widest * scale}
            now={mark.field === field}
            beside={x + widest * scale + 22 + Math.floor((marks.length - 1) / 2) * 18}
          />
        ))}
        <Named tool={tool} field={field} x={x} y={HEIGHT - 8} />
      </svg>
    </div>
  );
}

interface Placed {
  gauge: number;
  tip: number;
  x: number;
  scale: number;
}

function marksOf(tool: Tool, { gauge, tip, x, scale }: Placed, text: (value: number) => string): Mark[] {
  const half = (tool.diameter / 2) * scale;
  const marks: Mark[] = [
    { field: "length", name: "length", text: text(wholeLength(tool)), from: gauge, to: tip },
    { field: "stick_out", name: "stick-out", text: text(tool.stick_out), from: tip - tool.stick_out * scale, to: tip },
    { field: "diameter", name: "Ø", text: text(tool.diameter), from: x - half, to: x + half, wide: true },
  ];
  if (tool.cutting_length != null)
    marks.push({
      field: "cutting_length",
      name: "cutting length",
      text: text(tool.cutting_length),
      from: tip - tool.cutting_length * scale,
      to: tip,
    });
  if (tool.edge_height != null)
    marks.push({
      field: "edge_height",
      name: "edge height",
      text: text(tool.edge_height),
      from: tip - tool.edge_height * scale,
      to: tip,
    });
  return marks;
}

interface DimensionProps {
  mark: Mark;
  x: number;
  at: number;
  half: number;
  now: boolean;
  /** where the words of the right side begin, px: beyond all its lines */
  beside: number;
}

/** A dimension: lengths beside the tool, one further out than the other, the diameter under its tip. */
function Dimension({ mark, x, at, half, now, beside }: DimensionProps) {
  const line = { stroke: now ? "var(--now)" : "var(--dim)", strokeWidth: now ? 2 : 1 };
  const ink = { fill: now ? "var(--now)" : undefined, fontWeight: now ? 600 : undefined };
  if (mark.wide)
    return (
      <g data-dimension={mark.field} data-now={now}>
        <path
          d={`M${mark.from} ${HEIGHT - 28}H${mark.to}M${mark.from} ${HEIGHT - 33}v10M${mark.to} ${HEIGHT - 33}v10`}
          style={line}
        />
        <text x={mark.from - 8} y={HEIGHT - 23} textAnchor="end" className="dimension-text" style={ink}>
          {mark.name} {mark.text}
        </text>
      </g>
    );
  const left = at % 2 === 0;
  const out = half + 16 + Math.floor(at / 2) * 18;
  const place = left ? x - out : x + out;
  const middle = (mark.from + mark.to) / 2 + Math.floor(at / 2) * 18;
  return (
    <g data-dimension={mark.field} data-now={now}>
      <path
        d={`M${place} ${mark.from}V${mark.to}M${place - 4} ${mark.from}h8M${place - 4} ${mark.to}h8`}
        style={line}
      />
      <text
        x={left ? place - 6 : beside}
        y={middle + 5}
        textAnchor={left ? "end" : "start"}
        className="dimension-text"
        style={ink}
      >
        {mark.name} {mark.text}
      </text>
    </g>
  );
}

const SAID: Record<string, (tool: Tool) => string> = {
  corner_radius: (tool) => `corner radius ${tool.corner_radius ?? 0}`,
  angle_deg: (tool) => `angle ${tool.angle_deg ?? 0}°${tool.type === "chamfer mill" ? " per side" : " included"}`,
  flutes: (tool) => `${tool.flutes ?? 0} flutes`,
  off_axis: (tool) => (tool.off_axis ? "touched this far from its axis" : "touched on its axis"),
};

/** A dimension in focus that has no line of its own. */
function Named({ tool, field, x, y }: { tool: Tool; field: string; x: number; y: number }) {
  const said = SAID[field]?.(tool);
  if (!said) return null;
  return (
    <text x={x} y={y} textAnchor="middle" style={{ fill: "var(--now)", fontWeight: 600, fontSize: 14 }} data-now-named>
      {said}
    </text>
  );
}
