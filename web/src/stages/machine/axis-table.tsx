/** The axes side by side: data sheet and measured travel, soft limits, rapid and acceleration, what homing and play do. */
import { useState } from "react";
import type { Kind, Setup } from "../../api/client";
import { type PasteTable, pasted } from "../../fields/paste";
import { QuantityInput } from "../../fields/quantity-input";
import { Help, useUnit } from "../../fields/rows";
import { type MachineUnit, shown, unitOf } from "../../quantity/format";
import { when } from "../../quantity/when";
import { readingOf, useReadings } from "../../readings/readings";
import { may } from "../../session/session";
import { usePreview, useSetup } from "../../work/document";
import { edit } from "../../work/editing";
import { read, write } from "../../work/pointer";
import { setFocus, useSelection } from "../../work/selection";

const AXES = ["X", "Y", "Z"] as const;

type Axes = Setup["machine"]["axes"];

interface Line {
  name: string;
  field: string;
  kind: Kind;
  /** a value that need not be there: what the first one makes of the axis */
  optional?: boolean;
}

const LINES: (Line | { derived: string; name: string })[] = [
  {
    name: "data sheet from",
    field: "least",
    kind: "length",
  },
  { name: "data sheet to", field: "greatest", kind: "length" },
  {
    name: "measured from",
    field: "measured/least",
    kind: "length",
    optional: true,
  },
  {
    name: "measured to",
    field: "measured/greatest",
    kind: "length",
    optional: true,
  },
  { name: "margin", field: "margin", kind: "length" },
  { name: "soft limit from", derived: "soft_least" },
  { name: "soft limit to", derived: "soft_greatest" },
  { name: "rapid", field: "rapid", kind: "feed" },
  {
    name: "acceleration",
    field: "acceleration",
    kind: "acceleration",
  },
  {
    name: "resolution",
    field: "resolution",
    kind: "length",
  },
  {
    name: "scatter of home",
    field: "home_scatter",
    kind: "length",
    optional: true,
  },
  {
    name: "backlash",
    field: "backlash",
    kind: "length",
    optional: true,
  },
];

type Says = { text: string; wrong: boolean } | null;

/** The axes with another value in one place; what is measured at one end is taken with the data sheet's other. */
export function withValue(axes: Axes, path: string, value: unknown): Axes {
  const [axis = "X", ...field] = path.split("/");
  const own = axes[axis as keyof Axes];
  const measured = field[0] === "measured" && !own.measured;
  const before = measured ? { ...own, measured: { least: own.least, greatest: own.greatest } } : own;
  return { ...axes, [axis]: write(before, `/${field.join("/")}`, value) };
}

/** A block of cells from a spreadsheet over the table: a row for each line, a column for each axis. */
const tableIn = (unit: MachineUnit): PasteTable<Axes> => ({
  pointer: "/machine/axes",
  unit,
  row: (index) => index,
  at(row, column) {
    const [line, axis] = [LINES[row], AXES[column]];
    return line && "field" in line && axis ? { path: `${axis}/${line.field}`, kind: line.kind } : undefined;
  },
  put: withValue,
});

export function AxisTable() {
  const known = useSetup((setup) => setup !== null);
  const [says, setSays] = useState<Says>(null);
  const unit = useUnit();
  if (!known) return null;
  return (
    <div>
      <div className="group-title">
        Axes <small>machine coordinates</small>
      </div>
      <table
        className="mx-3 w-[calc(100%-24px)]"
        onPaste={(event) => void pasted(event, tableIn(unit), 1)?.then((text) => setSays({ text, wrong: false }))}
      >
        <thead>
          <tr className="text-ink-2">
            <th />
            {AXES.map((axis) => (
              <th key={axis} className="py-1 text-right font-semibold text-ink">
                {axis}
              </th>
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {LINES.map((line, index) =>
            "derived" in line ? (
              <DerivedLine key={line.derived} line={line} />
            ) : (
              <TypedLine key={line.field} line={line} index={index} onSays={setSays} />
            ),
          )}
          <HomeSwitches />
        </tbody>
      </table>
      <Outcome says={says} />
    </div>
  );
}

function DerivedLine({ line }: { line: { derived: string; name: string } }) {
  const unit = useUnit();
  const machine = usePreview((answer) => answer?.machine);
  return (
    <tr>
      <th className="py-0.5 pl-1 text-left font-normal whitespace-nowrap text-ink-2">{line.name}</th>
      {AXES.map((axis) => (
        <td key={axis} className="pr-[9px] text-right text-[16px]" data-derived={`${axis}_${line.derived}`}>
          {machine ? shown(machine.workings[`${axis}_${line.derived}`]?.value ?? 0, "length", unit) : ""}
        </td>
      ))}
      <td className="w-12 text-[13px] text-ink-3">{unitOf("length", unit)}</td>
    </tr>
  );
}

function TypedLine({ line, index, onSays }: { line: Line; index: number; onSays: (says: Says) => void }) {
  const unit = useUnit();
  const document = useSetup();
  const focus = useSelection((work) => work.focus);
  return (
    <tr data-index={index}>
      <th className="py-0.5 pl-1 text-left font-normal whitespace-nowrap text-ink-2">{line.name}</th>
      {AXES.map((axis) => {
        const pointer = `/machine/axes/${axis}/${line.field}`;
        const value = read(document, pointer) as number | null | undefined;
        return (
          <td key={axis} className={`table-cell w-[74px] px-0.5 ${focus === pointer ? "bg-now-wash" : ""}`}>
            {typeof value === "number" ? (
              <QuantityInput
                label={`${axis} ${line.name}`}
                value={value}
                kind={line.kind}
                unit={unit}
                readOnly={!may("technician")}
                onFocus={() => setFocus(pointer)}
                pointer={pointer}
                onCommit={(next) => edit(pointer, next)}
                onSays={onSays}
              />
            ) : (
              <Missing axis={axis} line={line} pointer={pointer} onSays={onSays} />
            )}
          </td>
        );
      })}
      <td className="w-12 text-[13px] text-ink-3">{unitOf(line.kind, unit)}</td>
    </tr>
  );
}

function HomeSwitches() {
  const axes = useSetup((setup) => setup?.machine.axes);
  return (
    <tr>
      <th className="pl-1 text-left font-normal text-ink-2">home switch at</th>
      {AXES.map((axis) => (
        <td key={axis} className="px-1">
          <select
            className="choice"
            aria-label={`${axis} home`}
            value={axes?.[axis].home}
            disabled={!may("technician")}
            onChange={(event) => void edit(`/machine/axes/${axis}/home`, event.currentTarget.value)}
          >
            <option value="least">from</option>
            <option value="greatest">to</option>
          </select>
        </td>
      ))}
      <td />
    </tr>
  );
}

/** What is wrong or was understood, else the help for the quantity in focus. */
function Outcome({ says }: { says: Says }) {
  const focus = useSelection((work) => work.focus);
  const field = focus?.match(/^\/machine\/axes\/[XYZ]\/(.*)$/)?.[1];
  const here = LINES.find((line): line is Line => "field" in line && line.field === field);
  if (says)
    return (
      <p className={`says ${says.wrong ? "wrong" : "understood"}`} role={says.wrong ? "alert" : undefined}>
        {says.text}
      </p>
    );
  if (!here || !focus) return null;
  return (
    <>
      <Help pointer={focus} />
      <Source pointer={focus} />
    </>
  );
}

/** A value that isn't measured yet: a click makes it the quantity in focus, typing gives it. */
function Missing(props: { axis: "X" | "Y" | "Z"; line: Line; pointer: string; onSays: (says: Says) => void }) {
  const { axis, line, pointer, onSays } = props;
  const [typing, setTyping] = useState(false);
  const unit = useUnit();
  const data = useSetup((setup) => setup?.machine.axes[axis]);
  if (!data) return null;
  const measured = line.field.match(/^measured\/(least|greatest)$/)?.[1] as "least" | "greatest" | undefined;
  if (!typing)
    return (
      <button
        type="button"
        className="min-h-7 w-full pr-1.5 text-right text-ink-3"
        aria-label={`${axis} ${line.name}, not measured`}
        onFocus={() => setFocus(pointer)}
        onClick={() => {
          setFocus(pointer);
          setTyping(may("technician"));
        }}
      >
        –
      </button>
    );
  return (
    <QuantityInput
      autoFocus
      label={`${axis} ${line.name}`}
      value={measured ? data[measured] : 0}
      kind={line.kind}
      unit={unit}
      onFocus={() => setFocus(pointer)}
      onDone={() => setTyping(false)}
      onCommit={(value) =>
        measured
          ? edit(`/machine/axes/${axis}/measured`, { least: data.least, greatest: data.greatest, [measured]: value })
          : edit(pointer, value)
      }
      onSays={onSays}
    />
  );
}

function Source({ pointer }: { pointer: string }) {
  const list = useReadings();
  const value = useSetup((setup) => read(setup, pointer));
  const from = readingOf(list, pointer, value);
  return from ? (
    <p className="says text-ink-2">
      Reading of {when(from.taken)} by {from.author}.
    </p>
  ) : null;
}
