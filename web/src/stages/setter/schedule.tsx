/** The schedule of the Setter stage: the setters, and the quantities of the one that is looked at. */
import { useId, useState } from "react";
import type { Setter } from "../../api/client";
import { EntryList } from "../../common/entry-list";
import { ChoiceRow, DerivationRow, described, QuantityRow, TextRow, useUnit } from "../../fields/rows";
import { shown, unitOf } from "../../quantity/format";
import { may } from "../../session/session";
import { AddDevice } from "../../touching/add-device";
import { InputRow } from "../../touching/input-row";
import { chooseMeasuring } from "../../work/choosing";
import { useSetup } from "../../work/document";
import { edit } from "../../work/editing";
import { read } from "../../work/pointer";
import { KINDS } from "./kinds";
import { useSetter } from "./which";

export function SetterSchedule() {
  const setters = useSetup((setup) => setup?.setters) ?? [];
  const { index } = useSetter();
  const [trouble, setTrouble] = useState("");
  return (
    <div className="pb-6">
      <Setters chosen={index} onTrouble={setTrouble} />
      {trouble && (
        <p role="alert" className="says wrong">
          {trouble}
        </p>
      )}
      {setters[index] && <Quantities key={setters[index].name} index={index} setter={setters[index]} />}
    </div>
  );
}

function Setters({ chosen, onTrouble }: { chosen: number; onTrouble: (text: string) => void }) {
  const setters = useSetup((setup) => setup?.setters) ?? [];
  const has = useSetup((setup) => Boolean(setup?.changer));
  const remove = async (name: string) =>
    onTrouble(described(await edit("/setters", (before: Setter[]) => before.filter((entry) => entry.name !== name))));
  return (
    <>
      <EntryList
        title="Setters"
        entries={setters.map((setter) => ({ name: setter.name, note: setter.kind }))}
        chosen={setters[chosen]?.name}
        onChoose={(setter) => void chooseMeasuring({ setter })}
        onRemove={(name) => void remove(name)}
      />
      {may("technician") && (
        <AddDevice
          what="setter"
          kinds={KINDS.filter((kind) => has || !kind.inChanger)}
          onAdded={(setter) => void chooseMeasuring({ setter })}
        />
      )}
    </>
  );
}

function Quantities({ index, setter }: { index: number; setter: Setter }) {
  const base = `/setters/${index}`;
  const document = useSetup();
  const view = KINDS.find((entry) => entry.kind === setter.kind);
  return (
    <>
      <div className="group-title">Where it is</div>
      <TextRow label="Name" pointer={`${base}/name`} />
      {view?.fields
        .filter(({ field }) => read(document, `${base}/${field}`) !== undefined)
        .map(({ field, ...rest }) => (
          <QuantityRow key={field} pointer={`${base}/${field}`} {...rest} />
        ))}
      <Place />
      <InputRow base={base} />
      <ChoiceRow
        label="It can be touched"
        pointer={`${base}/touched_from`}
        choices={[
          ["above", "from above"],
          ["above and the sides", "from above and the sides"],
        ]}
      />
      {!view?.fields.some(({ field }) => field === "work_offset") && <OffsetRow pointer={`${base}/work_offset`} />}
      <div className="group-title">The touch</div>
      {ROWS.map(([field, kind]) => (
        <QuantityRow key={field} pointer={`${base}/${field}`} kind={kind} twice={field === "plane_z"} />
      ))}
      <Worked />
    </>
  );
}

/** The work offset that a setter belongs to: its plane is stated in that one. */
function OffsetRow({ pointer }: { pointer: string }) {
  const id = useId();
  const value = useSetup((setup) => read(setup, pointer)) as number | null;
  const offsets = useSetup((setup) => setup?.work_offsets) ?? [];
  return (
    <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
      <label htmlFor={id}>Belongs to</label>
      <select
        id={id}
        className="choice"
        value={value ?? ""}
        disabled={!may("technician")}
        onChange={(event) => void edit(pointer, Number(event.currentTarget.value) || null)}
      >
        <option value="">machine coordinates</option>
        {offsets.map((offset) => (
          <option key={offset.number} value={offset.number}>
            work offset {offset.number}
          </option>
        ))}
      </select>
    </div>
  );
}

const ROWS = [
  ["plane_z", "length"],
  ["overtravel", "length"],
  ["trigger_travel", "length"],
  ["search_feed", "feed"],
  ["measure_feed", "feed"],
  ["latency", "time"],
  ["polling", "time"],
  ["turning_speed", "speed"],
  ["margin", "length"],
  ["back_off", "length"],
  ["touches", "count"],
  ["spread", "length"],
  ["repeatability", "length"],
] as const;

function Place() {
  const { answer } = useSetter();
  const unit = useUnit();
  if (!answer?.place) return <p className="px-4 text-[14px] text-warn">Where it is does not follow from the Setup.</p>;
  const [x, y] = answer.place;
  return (
    <p className="px-4 py-1 text-[14px] text-ink-2" data-place>
      stands at X {shown(x as number, "length", unit)} Y {shown(y as number, "length", unit)} {unitOf("length", unit)}
    </p>
  );
}

/** What follows, and the fastest search as one action. */
function Worked() {
  const { answer, index } = useSetter();
  const unit = useUnit();
  const now = useSetup((setup) => setup?.setters[index]?.search_feed);
  if (!answer) return null;
  const { push, within, fastest } = answer;
  const use = () => void edit(`/setters/${index}/search_feed`, fastest);
  return (
    <>
      <div className="group-title">What follows</div>
      {Object.entries(answer.workings).map(([name, working]) => (
        <DerivationRow key={name} name={name} working={working} warn={name === "push" && push > within} />
      ))}
      {fastest !== null && fastest !== now && may("technician") && (
        <p className="px-4 py-1">
          <button type="button" className="button plain min-h-9!" onClick={use}>
            Search at {shown(fastest, "feed", unit)} {unitOf("feed", unit)}
          </button>
        </p>
      )}
    </>
  );
}
