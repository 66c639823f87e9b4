/** The dimensions of the changer's sheet: of the rack in the plan, and the ladder of heights through front and side view. */
import type { Derived, Setup } from "../../api/client";
import { AcrossDimension, Figure, UprightDimension } from "../../drawing/dimension";
import { apart, type Projection } from "../../drawing/projection";
import { shown } from "../../quantity/format";
import { useUnit } from "../../quantity/rows";
import type { Place } from "../../score/evaluate";

export function PlanDimensions({ setup, derived, to }: { setup: Setup; derived: Derived; to: Projection }) {
  const unit = useUnit();
  const rack = setup.changer?.rack;
  const [first, second] = derived.pockets;
  const last = derived.pockets.at(-1);
  if (!rack || !first || !last) return null;
  const across = Math.abs(last.x - first.x) >= Math.abs(last.y - first.y);
  const datum = rack.datum;
  const mark = datum.at === "pocket" ? derived.pockets[datum.pocket - 1] : { x: datum.x, y: datum.y };
  const below = to.plan.top + to.plan.height;
  const pitch = shown(rack.pitch, "length", unit, true);
  const whole = `${rack.count - 1} × ${pitch} = ${shown(derived.workings.row_length?.value ?? 0, "length", unit, true)}`;
  return (
    <g>
      {second && across && (
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
      )}
      {second && !across && (
        <UprightDimension
          y1={to.atY(first.y)}
          y2={to.atY(second.y)}
          x={to.plan.left - 20}
          from={to.atX(first.x) - 14}
          text={pitch}
          pointer="/changer/rack/pitch"
          label="Pitch"
        />
      )}
      {mark && (
        <g>
          <path d={`M${to.atX(mark.x) - 8} ${to.atY(mark.y)}H${to.plan.left - 6}`} className="line-dimension" />
          <Figure
            x={to.plan.left - 4}
            y={to.atY(mark.y) - 13}
            anchor="end"
            text={`X ${shown(datum.x, "length", unit, true)}`}
            pointer="/changer/rack/datum/x"
            label="Datum X"
          />
          <Figure
            x={to.plan.left - 4}
            y={to.atY(mark.y) + 13}
            anchor="end"
            text={`Y ${shown(datum.y, "length", unit, true)}`}
            pointer="/changer/rack/datum/y"
            label="Datum Y"
          />
        </g>
      )}
      <Figure
        x={to.plan.left + to.plan.width - 4}
        y={below + 8}
        anchor="end"
        text={`bearing ${shown(rack.bearing_deg, "angle", unit, true)}°`}
        pointer="/changer/rack/bearing_deg"
        kind="angle"
        label="Bearing"
      />
    </g>
  );
}

const RUNGS = ["park", "carry", "empty", "hover", "couple"] as const;

export function Ladder({ derived, to, at }: { derived: Derived; to: Projection; at: Place | null }) {
  const unit = useUnit();
  const ladder = derived.ladder;
  const levels = RUNGS.map((name) => ({ name, z: ladder[`${name}_z`] }));
  const places = apart(
    levels.map((level) => to.atZ(level.z) + 4.5),
    16,
  );
  return (
    <g>
      {levels.map((level, index) => {
        const now = at !== null && Math.abs(at[2] - level.z) < 0.05;
        const y = to.atZ(level.z);
        const right = to.front.left + to.front.width;
        return (
          <g key={level.name}>
            <path
              d={`M${to.front.left} ${y}H${right}M${to.side.left} ${y}H${to.side.left + to.side.width}`}
              className="line-level"
              style={now ? { stroke: "var(--now)", strokeWidth: 1.25 } : undefined}
            />
            <text
              x={right + 6}
              y={places[index]}
              style={{ fill: now ? "var(--now)" : "var(--ink-2)", fontWeight: now ? 600 : 400 }}
            >
              {level.name} {shown(level.z, "length", unit)}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** The ladder's inputs: a column of figures left of the front view, each led to the level or the span that it gives. */
export function HeightDimensions({ setup, derived, to }: { setup: Setup; derived: Derived; to: Projection }) {
  const unit = useUnit();
  const heights = setup.changer?.heights;
  if (!heights) return null;
  const { couple_z, hover_z, empty_z } = derived.ladder;
  const rows: { name: string; label: string; field: keyof typeof heights; from: number; to: number }[] = [
    { name: "margin", label: "Margin", field: "margin", from: empty_z, to: heights.stored_top_z },
    {
      name: "stored top",
      label: "Stored top",
      field: "stored_top_z",
      from: heights.stored_top_z,
      to: heights.stored_top_z,
    },
    { name: "hover gap", label: "Hover gap", field: "hover_gap", from: hover_z, to: couple_z },
    { name: "on spacer", label: "Nose on spacer", field: "touch_z", from: heights.touch_z, to: heights.touch_z },
    {
      name: "depth",
      label: "Pocket depth",
      field: "pocket_depth",
      from: couple_z,
      to: couple_z - heights.pocket_depth,
    },
  ];
  const middles = rows.map((row) => (to.atZ(row.from) + to.atZ(row.to)) / 2);
  const places = apart(
    middles.map((middle, index) => middle - 22 + index * 4),
    23,
    to.front.top + to.front.height + 8,
  );
  const left = to.front.left;
  return (
    <g>
      <path d={`M${left} ${to.atZ(heights.stored_top_z)}H${left + to.front.width}`} className="line-dimension" />
      {rows.map((row, index) => {
        const x = left + 4 + index * 4;
        const y = places[index] as number;
        const [high, low] = [to.atZ(row.from), to.atZ(row.to)];
        return (
          <g key={row.field}>
            <path d={`M${left - 10} ${y}L${x} ${middles[index]}`} className="line-dimension" />
            {high !== low && (
              <path
                d={`M${x - 3} ${high}h6M${x} ${high}V${low}M${x - 3} ${low}h6`}
                className="line-dimension"
                fill="none"
              />
            )}
            <Figure
              x={left - 8}
              y={y}
              anchor="end"
              text={`${row.name} ${shown(heights[row.field] as number, "length", unit, true)}`}
              pointer={`/changer/heights/${row.field}`}
              label={row.label}
            />
          </g>
        );
      })}
    </g>
  );
}
