/** The dimensions of a rack in the plan, and of its heights. */
import type { Derived, Heights, Rack } from "../api/client";
import { AcrossDimension, Figure, UprightDimension } from "../drawing/dimension";
import type { Projection } from "../drawing/projection";
import { useUnit } from "../fields/rows";
import { shown } from "../quantity/format";
import type { HeightRow } from "./kind";

interface Props {
  rack: Rack;
  derived: Derived;
  to: Projection;
}

export function RackDimensions({ rack, derived, to }: Props) {
  const unit = useUnit();
  const [first] = derived.pockets;
  const last = derived.pockets[rack.count - 1];
  if (!first || !last) return null;
  const across = Math.abs(last.x - first.x) >= Math.abs(last.y - first.y);
  const Row = across ? RowAcross : RowUpright;
  return (
    <g>
      <Row rack={rack} derived={derived} to={to} />
      <DatumDimensions rack={rack} derived={derived} to={to} />
      <Figure
        x={to.plan.left + to.plan.width - 4}
        y={to.plan.top + to.plan.height + (across ? 8 : 30)}
        anchor="end"
        text={`bearing ${shown(rack.bearing_deg, "angle", unit, true)}°`}
        pointer="/changer/rack/bearing_deg"
        kind="angle"
        label="Bearing"
      />
    </g>
  );
}

function RowAcross({ rack, derived, to }: Props) {
  const unit = useUnit();
  const [first, second] = derived.pockets;
  const last = derived.pockets[rack.count - 1];
  if (!first || !second || !last) return null;
  const below = to.plan.top + to.plan.height;
  const pitch = shown(rack.pitch, "length", unit, true);
  const whole = `${rack.count - 1} × ${pitch} = ${shown(derived.workings.row_length?.value ?? 0, "length", unit, true)}`;
  return (
    <>
      <AcrossDimension
        x1={to.atX(Math.min(first.x, second.x))}
        x2={to.atX(Math.max(first.x, second.x))}
        y={below + 5}
        from={to.atY(first.y) + 14}
        text={pitch}
        pointer="/changer/rack/pitch"
        label="Pitch"
      />
      {rack.count > 3 && (
        <AcrossDimension
          x1={to.atX(Math.min(first.x, last.x))}
          x2={to.atX(Math.max(first.x, last.x))}
          y={below + 40}
          from={below + 30}
          text={whole}
        />
      )}
    </>
  );
}

function RowUpright({ rack, derived, to }: Props) {
  const unit = useUnit();
  const [first, second] = derived.pockets;
  if (!first || !second) return null;
  return (
    <UprightDimension
      y1={to.atY(first.y)}
      y2={to.atY(second.y)}
      x={to.plan.left + to.plan.width + 22}
      from={to.atX(first.x) + 14}
      text={shown(rack.pitch, "length", unit, true)}
      pointer="/changer/rack/pitch"
      label="Pitch"
    />
  );
}

function DatumDimensions({ rack, derived, to }: Props) {
  const unit = useUnit();
  const datum = rack.datum;
  const mark = datum.at === "pocket" ? derived.pockets[datum.pocket - 1] : { x: datum.x, y: datum.y };
  if (!mark) return null;
  const [x, y] = [to.plan.left - 4, to.atY(mark.y)];
  const text = (axis: "x" | "y") => `${axis.toUpperCase()} ${shown(datum[axis], "length", unit, true)}`;
  return (
    <g>
      <path d={`M${to.atX(mark.x) - 8} ${y}H${to.plan.left - 6}`} className="line-dimension" />
      <Figure x={x} y={y - 13} anchor="end" text={text("x")} pointer="/changer/rack/datum/x" label="Datum X" />
      <Figure x={x} y={y + 13} anchor="end" text={text("y")} pointer="/changer/rack/datum/y" label="Datum Y" />
    </g>
  );
}

const height = (
  heights: Heights,
  name: string,
  label: string,
  field: keyof Heights & string,
  from: number,
  to: number,
): HeightRow => ({
  name,
  label,
  pointer: `/changer/heights/${field}`,
  value: heights[field] as number,
  from,
  to,
});

const SEAT = { name: "seat", label: "Seat, measured" };

/** The heights that a rack's ladder is entered by; `seat`: the style's own word for where a tool is taken. */
export function rackHeights(heights: Heights, derived: Derived, seat = SEAT): HeightRow[] {
  const { couple_z, hover_z, empty_z } = derived.ladder;
  const { stored_top_z: top, touch_z: touch } = heights;
  return [
    height(heights, "margin", "Margin", "margin", empty_z, top),
    height(heights, "stored top", "Stored top", "stored_top_z", top, top),
    height(heights, "hover gap", "Hover gap", "hover_gap", hover_z, couple_z),
    height(heights, seat.name, seat.label, "touch_z", touch, touch),
    height(heights, "depth", "Pocket depth", "pocket_depth", couple_z, couple_z - heights.pocket_depth),
  ];
}

/** Those of a disc's exchange. */
export function discHeights(heights: Heights, derived: Derived): HeightRow[] {
  const { couple_z, hover_z } = derived.ladder;
  return [
    height(heights, "hover gap", "Hover gap", "hover_gap", hover_z, couple_z),
    height(heights, "exchange", "Exchange height", "touch_z", heights.touch_z, heights.touch_z),
    height(heights, "depth", "Pocket depth", "pocket_depth", couple_z, couple_z - heights.pocket_depth),
  ];
}
