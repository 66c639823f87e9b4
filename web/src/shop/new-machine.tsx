/** A new machine: what kind it is, its unit and travel, how it changes tools. It begins with numbers that go together. */
import { FilePlus2 } from "lucide-react";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { client, noConnection, refusal, type Style } from "../api/client";
import { STYLES } from "../changers";
import { Dialog } from "../common/dialog";
import { QuantityInput } from "../fields/quantity-input";
import type { MachineUnit } from "../quantity/format";
import { unitOf } from "../quantity/format";
import { useDocument } from "../work/document";
import { useVocabulary } from "../work/vocabulary";

const AXES = ["X", "Y", "Z"] as const;

/** ms between two looks whether what was typed is taken */
const WAIT = 20;

type Travel = [number, number, number];

export function NewMachine() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="button" onClick={() => setOpen(true)}>
        <FilePlus2 size={16} /> New machine
      </button>
      {open && <Begin onClose={() => setOpen(false)} />}
    </>
  );
}

function Begin({ onClose }: { onClose: () => void }) {
  const kinds = useVocabulary((words) => words.machine_kinds);
  const [name, setName] = useState("");
  const [kind, setKind] = useState("");
  const [unit, setUnit] = useState<MachineUnit>("mm");
  const [own, setTravel] = useState<Travel | null>(null);
  const [style, setStyle] = useState<Style | "">("");
  const [trouble, setTrouble] = useState("");
  const navigate = useNavigate();
  useEffect(() => void useVocabulary.getState().load(), []);
  const chosen = kind || (Object.keys(kinds)[0] ?? "");
  const travel = own ?? (kinds[chosen] as Travel | undefined);
  const latest = useRef(travel);
  latest.current = travel;
  async function create(event: FormEvent) {
    event.preventDefault();
    while (useDocument.getState().entering) await new Promise((done) => setTimeout(done, WAIT)); // a number that was just typed
    const body = { name, kind: chosen, unit, travel: latest.current ?? null, style };
    const { data, error } = await client.POST("/api/machines/new", { body }).catch(noConnection);
    if (data) navigate(`/machines/${data.slug}/${style ? "changer" : "machine"}`);
    else setTrouble(refusal(error));
  }
  return (
    <Dialog open onClose={onClose} title="New machine" wide>
      <form className="mt-2 grid gap-3" onSubmit={(event) => void create(event)}>
        <label className="grid gap-1">
          Name of the machine
          <input
            className="field max-w-80 border! border-ink! text-left!"
            value={name}
            required
            maxLength={80}
            ref={(field) => {
              if (field && !name) field.focus();
            }}
            onChange={(event) => setName(event.currentTarget.value)}
          />
        </label>
        <div className="flex gap-8">
          <Choice legend="Kind of machine" names={Object.keys(kinds)} value={chosen} onChoose={setKind} />
          <Choice legend="Unit" names={["mm", "inch"]} value={unit} onChoose={(name) => setUnit(name as MachineUnit)} />
        </div>
        {travel && (
          <TravelFields
            travel={travel}
            unit={unit}
            onTravel={(axis, way) =>
              setTravel((before) => (before ?? travel).map((old, at) => (at === axis ? way : old)) as Travel)
            }
          />
        )}
        <StyleChoice style={style} onStyle={setStyle} />
        {trouble && (
          <p role="alert" className="text-stop">
            {trouble}
          </p>
        )}
        <div className="flex gap-3">
          <button type="submit" className="button first">
            Create the machine
          </button>
          <button type="button" className="button plain" onClick={onClose}>
            Cancel
          </button>
        </div>
      </form>
    </Dialog>
  );
}

interface ChoiceProps {
  legend: string;
  names: string[];
  value: string;
  onChoose: (name: string) => void;
}

function Choice({ legend, names, value, onChoose }: ChoiceProps) {
  return (
    <fieldset>
      <legend>{legend}</legend>
      <div className="segmented mt-1 inline-flex">
        {names.map((name) => (
          <button key={name} type="button" aria-pressed={name === value} onClick={() => onChoose(name)}>
            {name}
          </button>
        ))}
      </div>
    </fieldset>
  );
}

interface TravelProps {
  travel: Travel;
  unit: MachineUnit;
  onTravel: (axis: number, way: number) => void;
}

function TravelFields({ travel, unit, onTravel }: TravelProps) {
  const [says, setSays] = useState<{ text: string; wrong: boolean } | null>(null);
  return (
    <fieldset>
      <legend>
        Travel <small className="text-ink-3">from the data sheet; it is measured later</small>
      </legend>
      <div className="mt-1 flex gap-4">
        {AXES.map((axis, index) => (
          <span key={axis} className="flex items-center gap-1.5">
            {axis}
            <span className="w-28 border border-ink">
              <QuantityInput
                label={`Travel of ${axis}`}
                value={travel[index] ?? 0}
                kind="length"
                unit={unit}
                onCommit={async (value) => {
                  if (value <= 0) return [{ where: "", what: `The travel of ${axis} must be above 0.` }];
                  onTravel(index, value);
                  return [];
                }}
                onSays={setSays}
              />
            </span>
            {unitOf("length", unit)}
          </span>
        ))}
      </div>
      {says && <p className={`says ${says.wrong ? "wrong" : "understood"}`}>{says.text}</p>}
    </fieldset>
  );
}

function StyleChoice({ style, onStyle }: { style: Style | ""; onStyle: (style: Style | "") => void }) {
  const every: [Style | "", string, string][] = [
    ...(Object.keys(STYLES) as Style[]).map(
      (key) => [key, STYLES[key].name, STYLES[key].says] as [Style, string, string],
    ),
    ["", "none yet", "Choose it later on the Changer stage."],
  ];
  return (
    <fieldset>
      <legend>
        Changer{" "}
        <small className="text-ink-3">
          begins with its inputs and outputs and three tools; measured numbers take the place of the usual ones
        </small>
      </legend>
      <ul className="mt-1 grid grid-cols-2 gap-2">
        {every.map(([key, name, says]) => (
          <li key={key}>
            <button
              type="button"
              className={`h-full w-full border px-3 py-2 text-left ${key === style ? "border-now bg-now-wash" : "border-rule"}`}
              aria-pressed={key === style}
              onClick={() => onStyle(key)}
            >
              <span className="block font-semibold">{name}</span>
              <span className="block text-[13.5px] text-ink-2">{says}</span>
            </button>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}
