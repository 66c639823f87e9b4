/** The ladder of heights through front and side view, and the heights that it is entered by. */
import type { Derived, Setup } from "../../api/client";
import { viewOf } from "../../changers";
import { Figure } from "../../drawing/dimension";
import { apart, type Projection } from "../../drawing/projection";
import { useUnit } from "../../fields/rows";
import { shown } from "../../quantity/format";
import type { Place } from "../../trace/evaluate";

export function Ladder(props: { setup: Setup; derived: Derived; to: Projection; at: Place | null }) {
  const { setup, derived, to, at } = props;
  const unit = useUnit();
  const ladder = { ...derived.ladder, park_z: derived.park_z };
  const view = viewOf(setup.changer);
  const levels = (view?.rungs ?? []).map((name) => ({ name: view?.rungName ?? name, z: ladder[`${name}_z`] }));
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
  const { changer } = setup;
  const view = viewOf(changer);
  const rows = changer && view ? view.heights(changer, derived) : [];
  if (!rows.length) return null;
  const middles = rows.map((row) => (to.atZ(row.from) + to.atZ(row.to)) / 2);
  const places = apart(
    middles.map((middle, index) => middle - 22 + index * 4),
    23,
    to.front.top + to.front.height + 8,
  );
  const left = to.front.left;
  return (
    <g>
      {rows
        .filter((row) => row.pointer.endsWith("stored_top_z"))
        .map((row) => (
          <path
            key={row.pointer}
            d={`M${left} ${to.atZ(row.value)}H${left + to.front.width}`}
            className="line-dimension"
          />
        ))}
      {rows.map((row, index) => {
        const x = left + 4 + index * 4;
        const y = places[index] as number;
        const [high, low] = [to.atZ(row.from), to.atZ(row.to)];
        return (
          <g key={row.pointer}>
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
              text={`${row.name} ${shown(row.value, "length", unit, true)}`}
              pointer={row.pointer}
              label={row.label}
            />
          </g>
        );
      })}
    </g>
  );
}
