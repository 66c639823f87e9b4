/** The tools beside one another to scale, hanging from the gauge line: those around the one that is looked at. */
import type { Tool } from "../../api/client";
import { useStyle } from "../../changers";
import { heightsOf } from "../../changers/of-changer";
import { useSize } from "../../common/use-size";
import { AcrossDimension, Figure } from "../../drawing/dimension";
import { useUnit } from "../../fields/rows";
import { shown } from "../../quantity/format";
import { wholeLength } from "../../readings/lengths";
import { usePreview, useSetup } from "../../work/document";
import { type Hanging, hanging } from "./hanging";
import { type Points, pathOf, useOutlines } from "./outlines";

/** Tools that are drawn at a time. */
const MOST = 12;

interface Props {
  tools: Tool[];
  /** the places of the tools that the table shows, in its order */
  order: number[];
  chosen: number;
  onChoose: (index: number) => void;
}

export function ToolsSheet({ tools, order, chosen, onChoose }: Props) {
  const magazine = usePreview((answer) => answer?.scene?.magazine);
  const depth = useSetup((setup) => heightsOf(setup?.changer)?.pocket_depth);
  const unit = useUnit();
  const { element, width, height } = useSize<HTMLDivElement>();
  const first = Math.max(0, Math.min(order.indexOf(chosen) - MOST / 2, order.length - MOST));
  const drawn = order
    .slice(first, first + MOST)
    .flatMap((index) => (tools[index] ? [{ index, tool: tools[index] }] : []));
  const outlines = useOutlines(drawn.map((entry) => entry.tool));
  const hang = hanging(
    drawn.map((entry) => entry.tool),
    magazine?.radius ?? 14,
    magazine?.above ?? 0,
    depth,
    { width, height },
  );
  const at = drawn.findIndex((entry) => entry.index === chosen);
  const tool = tools[chosen];
  return (
    <div ref={element} data-drawing className="bg-sheet">
      <svg width={width} height={height} role="group" aria-label="The tools, to scale">
        <title>The tools beside one another, hanging from the gauge line</title>
        <path d={`M20 ${hang.gauge}H${width - 16}`} className="line-level" />
        <text x="20" y={hang.gauge - 6} className="caption">
          gauge line
        </text>
        {depth !== undefined && (
          <>
            <path d={`M20 ${hang.at(depth)}H${width - 16}`} className="line-hidden" />
            <text x="20" y={hang.at(depth) - 6} className="caption">
              pocket depth {shown(depth, "length", unit, true)}
            </text>
          </>
        )}
        {order.length > MOST && (
          <text x={width - 18} y="16" textAnchor="end" className="caption">
            {first + 1} to {first + drawn.length} of {order.length}
          </text>
        )}
        {drawn.map((entry, place) => (
          <Hung
            key={entry.tool.number}
            tool={entry.tool}
            points={outlines.get(entry.tool.number) ?? []}
            hang={hang}
            x={hang.middle(place)}
            foot={height - 12}
            chosen={entry.index === chosen}
            onChoose={() => onChoose(entry.index)}
          />
        ))}
        {tool && at >= 0 && <Lengths tool={tool} index={chosen} x={hang.middle(at)} hang={hang} />}
      </svg>
    </div>
  );
}

interface HungProps {
  tool: Tool;
  points: Points;
  hang: Hanging;
  x: number;
  foot: number;
  chosen: boolean;
  onChoose: () => void;
}

/** A tool in its nut or holder, and the nose that it hangs in. */
function Hung({ tool, points, hang, x, foot, chosen, onChoose }: HungProps) {
  const nose = usePreview((answer) => answer?.scene?.spindle[0]?.radius);
  const held = usePreview((answer) => answer?.scene?.tools.find((entry) => entry.number === tool.number)?.parts);
  const byHand = useStyle()?.anyTool;
  const { at, wide, engaged } = hang;
  const line = chosen ? "line-now" : "line-outline";
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the table's row is what a keyboard chooses it by
    <g onClick={onChoose} style={{ cursor: "pointer" }}>
      {nose && <Block x={x} half={wide(nose)} top={at(-engaged - 16)} bottom={at(0)} className="line-thin" dashed />}
      <path d={pathOf(points, x, hang.gauge, wide(1))} fill="var(--tool)" className={line} data-outline={tool.type} />
      {held?.slice(0, -1).map((part) => (
        <Block
          key={`${part.low} ${part.high}`}
          x={x}
          half={wide(part.radius)}
          top={at(-part.high)}
          bottom={at(-part.low)}
          fill="var(--steel)"
          className={line}
        />
      ))}
      <path d={`M${x} ${at(-engaged - 20)}V${at(wholeLength(tool)) + 8}`} className="line-centre" />
      <text x={x} y={20} textAnchor="middle" style={{ fontWeight: 600, fill: chosen ? "var(--now)" : undefined }}>
        T{tool.number}
      </text>
      <text x={x} y={foot} textAnchor="middle" className="caption">
        {tool.pocket ? `pocket ${tool.pocket}` : byHand ? "" : "no pocket"}
      </text>
    </g>
  );
}

interface BlockProps {
  x: number;
  half: number;
  top: number;
  bottom: number;
  fill?: string;
  className: string;
  dashed?: boolean;
}

function Block({ x, half, top, bottom, fill = "none", className, dashed }: BlockProps) {
  return (
    <rect
      x={x - half}
      y={top}
      width={2 * half}
      height={bottom - top}
      fill={fill}
      className={className}
      strokeDasharray={dashed ? "4 3" : undefined}
    />
  );
}

function Lengths({ tool, index, x, hang }: { tool: Tool; index: number; x: number; hang: Hanging }) {
  const unit = useUnit();
  const half = hang.wide(tool.diameter / 2);
  const { gauge } = hang;
  const tip = hang.at(wholeLength(tool));
  return (
    <g>
      <path d={`M${x + half} ${tip}H${x + 44}M${x + 44} ${gauge}V${tip}`} className="line-dimension" fill="none" />
      <Figure
        label="Length"
        x={x + 44}
        y={(gauge + tip) / 2}
        text={shown(wholeLength(tool), "length", unit, true)}
        pointer={tool.wear ? undefined : `/tools/${index}/length`}
      />
      {half > 26 && (
        <AcrossDimension x1={x - half} x2={x + half} y={tip + 34} text={shown(tool.diameter, "length", unit, true)} />
      )}
    </g>
  );
}
