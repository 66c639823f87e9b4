/** The schedule of the Routines stage: the routines, and the quantities of the one that is looked at. */
import { Plus } from "lucide-react";
import { useId, useState } from "react";
import type { Routine } from "../../api/client";
import { EntryList } from "../../common/entry-list";
import { LimitRow } from "../../fields/limit-row";
import { ChoiceRow, described, QuantityRow, TextRow, YesNoRow } from "../../fields/rows";
import { KINDS } from "../../routines";
import { rounded } from "../../routines/rounded";
import { may } from "../../session/session";
import { choose, useRoutine } from "../../touching/which-routine";
import { useSetup } from "../../work/document";
import { addToSetup, edit } from "../../work/editing";
import { read } from "../../work/pointer";
import { Capture } from "./capture";

export function RoutineSchedule() {
  const { index, routine } = useRoutine();
  const [trouble, setTrouble] = useState("");
  return (
    <div className="pb-6">
      <List onTrouble={setTrouble} />
      {trouble && (
        <p role="alert" className="says wrong">
          {trouble}
        </p>
      )}
      {routine && <Quantities key={routine.name} index={index} routine={routine} />}
    </div>
  );
}

function List({ onTrouble }: { onTrouble: (text: string) => void }) {
  const { answer } = useRoutine();
  const remove = async (name: string) =>
    onTrouble(described(await edit("/routines", (before: Routine[]) => before.filter((entry) => entry.name !== name))));
  const own = answer?.routines.filter((entry) => !entry.qualifies) ?? [];
  return (
    <>
      <EntryList
        title="Routines"
        entries={own.map((entry) => ({ name: entry.name, note: entry.kind }))}
        chosen={answer?.routine}
        long
        onChoose={(name) => choose(name)}
        onRemove={(name) => void remove(name)}
      />
      {may("technician") && <Add onTrouble={onTrouble} />}
    </>
  );
}

/** A new routine of a kind, with the first probe there is. */
function Add({ onTrouble }: { onTrouble: (text: string) => void }) {
  const setup = useSetup();
  const id = useId();
  if (!setup) return null;
  const add = async (kind: string) => {
    const view = KINDS.find((entry) => entry.kind === kind);
    if (!view) return;
    if (!setup.probes.length && !view.untouched) {
      onTrouble("A routine is made with a probe: add that on the Probes stage first.");
      return;
    }
    const names = setup.routines.map((entry) => entry.name);
    let name = view.label;
    for (let count = 2; names.includes(name); count++) name = `${view.label} ${count}`;
    const made = rounded(view.template(setup, name, setup.probes[0]?.name ?? null), setup.machine.unit);
    const { faults } = await addToSetup({ what: "entry", body: { where: "/routines", entry: made } });
    onTrouble(described(faults));
    if (!faults.length) choose(name);
  };
  return (
    <div className="flex items-center gap-2 px-4 py-1.5">
      <label htmlFor={id} className="flex items-center gap-1 text-[14px]">
        <Plus size={15} /> Add a routine
      </label>
      <select
        id={id}
        className="choice w-auto! flex-1 border border-ink! rounded-xs px-1 text-left!"
        value=""
        onChange={(event) => void add(event.currentTarget.value)}
      >
        <option value="">choose what it finds</option>
        {KINDS.map((kind) => (
          <option key={kind.kind} value={kind.kind}>
            {kind.label}
          </option>
        ))}
      </select>
    </div>
  );
}

const TOUCH = ["before", "beyond", "clearance"];

function Quantities({ index, routine }: { index: number; routine: Routine }) {
  const base = `/routines/${index}`;
  const probes = useSetup((setup) => setup?.probes) ?? [];
  const view = KINDS.find((entry) => entry.kind === routine.kind);
  const fixed = view?.untouched;
  return (
    <>
      <div className="group-title">Where it is expected</div>
      <TextRow label="Name" pointer={`${base}/name`} />
      {!fixed && (
        <ChoiceRow
          label="Made with"
          pointer={`${base}/probe`}
          choices={probes.map((entry) => [entry.name, entry.name])}
        />
      )}
      <QuantityRow pointer={`${base}/x`} kind="length" />
      <QuantityRow pointer={`${base}/y`} kind="length" />
      <QuantityRow pointer={`${base}/z`} kind="length" />
      <Capture index={index} routine={routine} />
      {view?.choices?.map((entry) => (
        <ChoiceRow key={entry.field} label={entry.label} pointer={`${base}/${entry.field}`} choices={entry.choices} />
      ))}
      {view?.fields.map(({ field, ...rest }) => (
        <QuantityRow key={field} pointer={`${base}/${field}`} {...rest} />
      ))}
      {view?.Extra && <view.Extra index={index} routine={routine} />}
      {!fixed && (
        <>
          <div className="group-title">The touches</div>
          {TOUCH.map((field) => (
            <QuantityRow key={field} pointer={`${base}/${field}`} kind="length" />
          ))}
          {view?.deep && <QuantityRow pointer={`${base}/depth`} kind="length" />}
        </>
      )}
      <Sets base={base} routine={routine} />
    </>
  );
}

/** What is set by it, and how far off it may be for that. */
function Sets({ base, routine }: { base: string; routine: Routine }) {
  const view = KINDS.find((entry) => entry.kind === routine.kind);
  const { answer } = useRoutine();
  const kept = answer?.kept.map((entry) => entry.name) ?? [];
  return (
    <>
      <div className="group-title">What it sets</div>
      <OffsetRow pointer={`${base}/work_offset`} />
      {routine.work_offset !== null && (
        <>
          {kept.includes("x") && <QuantityRow pointer={`${base}/readout_x`} kind="length" />}
          {kept.includes("y") && <QuantityRow pointer={`${base}/readout_y`} kind="length" />}
          {kept.includes("z") && <QuantityRow pointer={`${base}/readout_z`} kind="length" />}
        </>
      )}
      {view?.switches?.map(([label, field]) => (
        <YesNoRow key={field} label={label} pointer={`${base}/${field}`} />
      ))}
      {!view?.untouched && (
        <>
          <LimitRow label="Place may be off by" pointer={`${base}/place_tolerance`} kind="length" usual={5} />
          {kept.some((name) => !["x", "y", "z", "turn"].includes(name)) && (
            <LimitRow label="Size may be off by" pointer={`${base}/size_tolerance`} kind="length" usual={0.5} />
          )}
          {kept.includes("turn") && (
            <LimitRow label="Turn may be off by" pointer={`${base}/turn_tolerance`} kind="angle" usual={5} />
          )}
        </>
      )}
    </>
  );
}

function OffsetRow({ pointer }: { pointer: string }) {
  const id = useId();
  const value = useSetup((setup) => read(setup, pointer)) as number | null;
  return (
    <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
      <label htmlFor={id}>Sets the zero of</label>
      <select
        id={id}
        className="choice"
        value={value ?? ""}
        disabled={!may("technician")}
        onChange={(event) => void edit(pointer, Number(event.currentTarget.value) || null)}
      >
        <option value="">nothing</option>
        {[1, 2, 3, 4, 5, 6, 7, 8, 9].map((number) => (
          <option key={number} value={number}>
            work offset {number}
          </option>
        ))}
      </select>
    </div>
  );
}
