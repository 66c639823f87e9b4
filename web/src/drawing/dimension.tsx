/** Dimension lines, whose numbers can be edited where they stand. */
import { useState } from "react";
import type { Kind } from "../api/client";
import { useAgain } from "../fields/again";
import { QuantityInput } from "../fields/quantity-input";
import { useUnit } from "../fields/rows";
import { shown } from "../quantity/format";
import { may } from "../session/session";
import { useSetup } from "../work/document";
import { edit } from "../work/editing";
import { read } from "../work/pointer";
import { setFocus, useSelection } from "../work/selection";

function Arrow({ x, y, turn }: { x: number; y: number; turn: number }) {
  return (
    <g transform={`translate(${x} ${y}) rotate(${turn})`}>
      <path d="M0 0 9 2.6V-2.6Z" fill="var(--dim)" className="arrow" />
    </g>
  );
}

/** About how wide a figure is with its ground, pixels. */
const textWidth = (text: string) => text.length * 7.4 + 14;

interface Span {
  text: string;
  pointer?: string;
  kind?: Kind;
  label?: string;
  /** it is typed again in the schedule before it is taken */
  twice?: boolean;
}

/** A dimension along the sheet's width, with extension lines from the height `from` to its own height `y`. */
export function AcrossDimension(props: { x1: number; x2: number; y: number; from?: number } & Span) {
  const { x1, x2, y } = props;
  const middle = (x1 + x2) / 2;
  const below = textWidth(props.text) > Math.abs(x2 - x1) - 20 ? 16 : 0; // beside its arrows where it does not fit between
  return (
    <g>
      {props.from !== undefined && (
        <path d={`M${x1} ${props.from}V${y + 4}M${x2} ${props.from}V${y + 4}`} className="line-dimension" fill="none" />
      )}
      <path d={`M${x1} ${y}H${x2}`} className="line-dimension" />
      <Arrow x={x1} y={y} turn={0} />
      <Arrow x={x2} y={y} turn={180} />
      <Figure {...props} x={middle} y={y + below} />
    </g>
  );
}

/** A dimension up the sheet, with extension lines from the place `from` to its own place `x`. */
export function UprightDimension(props: { y1: number; y2: number; x: number; from?: number } & Span) {
  const { y1, y2, x } = props;
  const short = Math.abs(y2 - y1) < 30;
  return (
    <g>
      {props.from !== undefined && (
        <path d={`M${props.from} ${y1}H${x - 4}M${props.from} ${y2}H${x - 4}`} className="line-dimension" fill="none" />
      )}
      <path d={`M${x} ${y1}V${y2}`} className="line-dimension" />
      <Arrow x={x} y={y1} turn={y2 > y1 ? 90 : -90} />
      <Arrow x={x} y={y2} turn={y2 > y1 ? -90 : 90} />
      <Figure {...props} x={short ? x + 30 : x} y={(y1 + y2) / 2} />
    </g>
  );
}

/** The number of a dimension. With a pointer it can be edited: a click, or Enter on the focused one. */
export function Figure(props: Span & { x: number; y: number; anchor?: "start" | "middle" | "end" }) {
  const { x, y, pointer, kind = "length", label = "" } = props;
  const unit = useUnit();
  const [open, setOpen] = useState(false);
  const focused = useSelection((work) => pointer !== undefined && work.focus === pointer);
  const value = useSetup((setup) => (pointer ? (read(setup, pointer) as number) : 0));
  const width = textWidth(props.text);
  const left = props.anchor === "start" ? x : props.anchor === "end" ? x - width : x - width / 2;
  if (!pointer)
    return (
      <g className="figure">
        <rect x={left} y={y - 10} width={width} height="20" fill="var(--sheet)" className="ground-plain" />
        <text x={left + width / 2} y={y + 5} textAnchor="middle" className="dimension-text">
          {props.text}
        </text>
      </g>
    );
  if (open) return <Entry {...props} pointer={pointer} left={left} width={width} onDone={() => setOpen(false)} />;
  const start = () => {
    setFocus(pointer);
    if (may("technician")) setOpen(true);
  };
  return (
    <g
      className={`figure editable ${focused ? "focused" : ""}`}
      role="button"
      tabIndex={0}
      aria-label={`${label}, ${shown(value, kind, unit, true)}, edit`}
      data-pointer={pointer}
      onClick={start}
      onFocus={() => setFocus(pointer)}
      onKeyDown={(event) => event.key === "Enter" && start()}
    >
      <rect x={left - 6} y={y - 20} width={width + 12} height="40" fill="transparent" />
      <rect className="ground" x={left} y={y - 11} width={width} height="22" rx="2" />
      <text x={left + width / 2} y={y + 5} textAnchor="middle" className="dimension-text">
        {props.text}
      </text>
    </g>
  );
}

interface EntryProps extends Span {
  y: number;
  pointer: string;
  left: number;
  width: number;
  onDone: () => void;
}

/** The field in place of a figure. */
function Entry({ y, pointer, kind = "length", label = "", twice, left, width, onDone }: EntryProps) {
  const unit = useUnit();
  const [says, setSays] = useState<{ text: string; wrong: boolean } | null>(null);
  const value = useSetup((setup) => read(setup, pointer) as number);
  return (
    <foreignObject
      className="figure"
      x={left - 24}
      y={y - 16}
      width={Math.max(150, width + 48)}
      height={says ? 110 : 36}
    >
      <QuantityInput
        autoFocus
        label={label}
        value={value}
        kind={kind}
        unit={unit}
        pointer={pointer}
        className="bg-raise!"
        onCommit={async (next) =>
          twice && next !== value ? useAgain.getState().ask(pointer, next) : edit(pointer, next)
        }
        onSays={setSays}
        onDone={onDone}
      />
      {says && (
        <div className={`says border border-rule bg-raise px-1 ${says.wrong ? "wrong" : "understood"}`}>
          {says.text}
        </div>
      )}
    </foreignObject>
  );
}
