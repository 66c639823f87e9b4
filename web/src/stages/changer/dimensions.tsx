/** The dimensions of the changer's sheet: of the rack in the plan, and the ladder of heights through front and side view. */
import type { Changer, Derived, Heights, Setup } from "../../api/client";
import { AcrossDimension, Figure, UprightDimension } from "../../drawing/dimension";
import { apart, type Projection } from "../../drawing/projection";
import { shown } from "../../quantity/format";
import { useUnit } from "../../quantity/rows";
import type { Place } from "../../score/evaluate";
import { heightsOf, rackOf } from "./styles";

export function PlanDimensions({ setup, derived, to }: { setup: Setup; derived: Derived; to: Projection }) {
  const unit = useUnit();
  const rack = rackOf(setup.changer);
  const [first, second] = derived.pockets;
  const last = derived.pockets[(rack?.count ?? 1) - 1];
  if (setup.changer && "exchange" in setup.changer) return <ExchangeDimensions changer={setup.changer} to={to} />;
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
          x={to.plan.left + to.plan.width + 22}
          from={to.atX(first.x) + 14}
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

/** A disc's: the exchange place, the radius and, where it swings, how far. */
function ExchangeDimensions({ changer, to }: { changer: Extract<Changer, { exchange: unknown }>; to: Projection }) {
  const unit = useUnit();
  const [x, y] = [to.atX(changer.exchange.x), to.atY(changer.exchange.y)];
  const below = to.plan.top + to.plan.height;
  const mm = (value: number) => shown(value, "length", unit, true);
  const place = [
    { label: "Exchange place X", text: `X ${mm(changer.exchange.x)}`, pointer: "/changer/exchange/x" },
    { label: "Exchange place Y", text: `Y ${mm(changer.exchange.y)}`, pointer: "/changer/exchange/y" },
  ];
  const figures = [
    { label: "Radius", text: `radius ${mm(changer.disc.radius)}`, pointer: "/changer/disc/radius" },
    changer.style === "moving disc"
      ? { label: "Swing", text: `swing ${mm(changer.swing)}`, pointer: "/changer/swing" }
      : { label: "Arm reach", text: `reach ${mm(changer.arm.reach)}`, pointer: "/changer/arm/reach" },
  ];
  return (
    <g>
      <path d={`M${x} ${y}L${x + 20} ${to.plan.top + 24}`} className="line-dimension" />
      {place.map((figure, index) => (
        <Figure key={figure.label} x={x + 24} y={to.plan.top + 14 + index * 24} anchor="start" {...figure} />
      ))}
      {figures.map((figure, index) => (
        <Figure key={figure.label} x={to.plan.left - 8} y={to.plan.top + 18 + index * 26} anchor="end" {...figure} />
      ))}
      <Figure
        x={to.plan.left + to.plan.width - 4}
        y={below + 8}
        anchor="end"
        text={`bearing ${shown(changer.disc.bearing_deg, "angle", unit, true)}°`}
        pointer="/changer/disc/bearing_deg"
        kind="angle"
        label="Bearing"
      />
    </g>
  );
}

const RUNGS = ["park", "carry", "empty", "hover", "couple"] as const;

/** The rungs that a style has: a disc is not gone over, and by hand there is one. */
function rungsOf(changer: Setup["changer"]): readonly (typeof RUNGS)[number][] {
  if (changer?.style === "by hand") return ["park"];
  if (changer?.style === "disc with arm") return ["park", "couple"];
  return changer && "exchange" in changer ? ["park", "hover", "couple"] : RUNGS;
}

export function Ladder(props: { setup: Setup; derived: Derived; to: Projection; at: Place | null }) {
  const { setup, derived, to, at } = props;
  const unit = useUnit();
  const ladder = derived.ladder;
  const byHand = setup.changer?.style === "by hand";
  const levels = rungsOf(setup.changer).map((name) => ({ name: byHand ? "loading" : name, z: ladder[`${name}_z`] }));
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

interface HeightRow {
  name: string;
  label: string;
  field: (keyof Heights & string) | "give";
  from: number;
  to: number;
}

/** The ladder's inputs: a column of figures left of the front view, each led to the level or the span that it gives. */
export function HeightDimensions({ setup, derived, to }: { setup: Setup; derived: Derived; to: Projection }) {
  const unit = useUnit();
  const heights = heightsOf(setup.changer);
  const rack = rackOf(setup.changer);
  if (!heights) return null;
  const { couple_z, hover_z, empty_z } = derived.ladder;
  const over: HeightRow[] = [
    { name: "margin", label: "Margin", field: "margin", from: empty_z, to: heights.stored_top_z },
    {
      name: "stored top",
      label: "Stored top",
      field: "stored_top_z",
      from: heights.stored_top_z,
      to: heights.stored_top_z,
    },
  ];
  const rows: HeightRow[] = [
    ...(rack ? over : []),
    { name: "hover gap", label: "Hover gap", field: "hover_gap", from: hover_z, to: couple_z },
    {
      name: rack ? "on spacer" : "exchange",
      label: "Nose on spacer",
      field: "touch_z",
      from: heights.touch_z,
      to: heights.touch_z,
    },
    {
      name: "depth",
      label: "Pocket depth",
      field: "pocket_depth",
      from: couple_z,
      to: couple_z - heights.pocket_depth,
    },
  ];
  const coupling = setup.changer && "coupling" in setup.changer ? setup.changer.coupling : null;
  if (coupling)
    rows.splice(-1, 0, {
      name: "pocket gives",
      label: "Pocket gives",
      field: "give",
      from: couple_z,
      to: couple_z - coupling.give,
    });
  const middles = rows.map((row) => (to.atZ(row.from) + to.atZ(row.to)) / 2);
  const places = apart(
    middles.map((middle, index) => middle - 22 + index * 4),
    23,
    to.front.top + to.front.height + 8,
  );
  const left = to.front.left;
  return (
    <g>
      {rack && (
        <path d={`M${left} ${to.atZ(heights.stored_top_z)}H${left + to.front.width}`} className="line-dimension" />
      )}
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
              text={`${row.name} ${shown(row.field === "give" ? (coupling?.give ?? 0) : (heights[row.field] as number), "length", unit, true)}`}
              pointer={row.field === "give" ? "/changer/coupling/give" : `/changer/heights/${row.field}`}
              label={row.label}
            />
          </g>
        );
      })}
    </g>
  );
}
