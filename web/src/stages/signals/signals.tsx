/** The Signals stage: inputs and outputs, how they are wired, what the control sees of them, and their tests. */
import { Plus, Trash2 } from "lucide-react";
import { useId, useState } from "react";
import type { Input, Output } from "../../api/client";
import { Panels } from "../../common/panels";
import { ChoiceRow, QuantityRow, TextRow } from "../../fields/rows";
import { FindingItem } from "../../findings/findings";
import { Lamp } from "../../live/lamps";
import { useLive } from "../../live/live";
import { usePart } from "../../session/address";
import { may } from "../../session/session";
import { setupNow, useMachine, usePreview, useSetup } from "../../work/document";
import { addToSetup, edit } from "../../work/editing";
import { useVocabulary } from "../../work/vocabulary";
import { InputSheet } from "./input-sheet";
import { TestMark } from "./test-mark";

export default function SignalsStage() {
  const inputs = useSetup((setup) => setup?.inputs) ?? [];
  const [chosen, setChosen] = useState<number | null>(null);
  const index = Math.max(
    0,
    inputs.findIndex((entry) => entry.number === chosen),
  );
  const input = inputs[index];
  usePart("input", input ? String(input.number) : null, inputs.length > 0, (asked) => {
    const found = inputs.some((entry) => String(entry.number) === asked);
    if (found) setChosen(Number(asked));
    return found;
  });
  return (
    <Panels
      name="signals"
      left={<Schedule chosen={input?.number ?? null} onChoose={setChosen} index={index} />}
      leftSize={372}
      middle={
        input ? (
          <InputSheet key={input.number} input={input} index={index} />
        ) : (
          <p className="h-full bg-sheet p-6 text-ink-2">
            No input yet. Add the touch plate, the setter, the air pressure, the door: whatever the control reads.
          </p>
        )
      }
      right={<Findings />}
      rightSize={262}
    />
  );
}

/** A number and a terminal that nothing has yet. */
function free(taken: number[]): number {
  let number = 1;
  while (taken.includes(number)) number++;
  return number;
}

type Keep = (pointer: string, change: (before: never) => unknown) => Promise<boolean>;

function Schedule(props: { chosen: number | null; onChoose: (number: number) => void; index: number }) {
  const { chosen, onChoose, index } = props;
  const inputs = useSetup((setup) => setup?.inputs) ?? [];
  const outputs = useSetup((setup) => setup?.outputs) ?? [];
  const [output, setOutput] = useState(0);
  const [trouble, setTrouble] = useState("");
  const keep: Keep = async (pointer, change) => {
    const faults = await edit(pointer, change);
    setTrouble(faults.map((fault) => fault.what).join(" "));
    return faults.length === 0;
  };
  const add = async (where: string, entry: object) => {
    const { faults } = await addToSetup({ what: "entry", body: { where, entry } });
    setTrouble(faults.map((fault) => fault.what).join(" "));
    return faults.length === 0;
  };
  const addInput = async () => {
    const made = newInput(free(inputs.map((entry) => entry.number)));
    if (await add("/inputs", made)) onChoose(made.number);
  };
  const addOutput = async () => {
    const made = newOutput(free(outputs.map((entry) => entry.number)));
    const place = () => setupNow()?.outputs.findIndex((entry) => entry.number === made.number) ?? 0;
    if (await add("/outputs", made)) setOutput(place());
  };
  return (
    <div className="pb-6">
      <Title name="Inputs" onAdd={addInput} />
      <ul>
        {inputs.map((entry) => (
          <InputItem key={entry.number} input={entry} chosen={entry.number === chosen} onChoose={onChoose} />
        ))}
      </ul>
      {inputs[index] && <InputFields index={index} keep={keep} />}
      {trouble && (
        <p role="alert" className="says wrong">
          {trouble}
        </p>
      )}
      <Title name="Outputs" onAdd={addOutput} />
      {outputs.length === 0 && <p className="px-4 text-[14px] text-ink-2">None yet.</p>}
      <Outputs chosen={output} onChoose={setOutput} />
    </div>
  );
}

const newInput = (number: number): Input => ({
  number,
  name: `input ${number}`,
  role: "other",
  terminal: `I${number}`,
  wiring: "normally open",
  level: "low",
  filter: 0,
});

const newOutput = (number: number): Output => ({
  number,
  name: `output ${number}`,
  role: "other",
  terminal: `O${number}`,
  word_on: "M7",
  word_off: "M9",
  seconds: 0,
});

function Title({ name, onAdd }: { name: string; onAdd: () => Promise<void> }) {
  return (
    <div className="group-title">
      {name}
      {may("technician") && (
        <button type="button" className="button plain min-h-8! px-2!" onClick={() => void onAdd()}>
          <Plus size={15} /> Add
        </button>
      )}
    </div>
  );
}

function InputItem(props: { input: Input; chosen: boolean; onChoose: (number: number) => void }) {
  const { input, chosen, onChoose } = props;
  const test = useMachine((machine) => machine?.tests.find((found) => found.number === input.number));
  const made = useLive((live) => live.reported?.inputs?.[input.name]);
  return (
    <li>
      <button
        type="button"
        className={`flex min-h-10 w-full items-center gap-2.5 px-4 text-left ${chosen ? "bg-now-wash shadow-[inset_3px_0_var(--now)]" : ""}`}
        aria-pressed={chosen}
        onClick={() => onChoose(input.number)}
      >
        <Lamp made={made} />
        <span className="flex-1 truncate">
          {input.name} <span className="text-[13.5px] text-ink-3">{input.terminal}</span>
        </span>
        <TestMark outcome={test?.outcome} stale={test?.stale} />
      </button>
    </li>
  );
}

const same = (...words: string[]) => words.map((word) => [word, word] as [string, string]);

function InputFields({ index, keep }: { index: number; keep: Keep }) {
  const roles = useVocabulary((words) => words.input_roles);
  const base = `/inputs/${index}`;
  return (
    <div className="border-y border-rule bg-sheet/60 py-1.5">
      <NumberRow label="Number in a program" pointer={`${base}/number`} />
      <TextRow label="Name" pointer={`${base}/name`} />
      <ChoiceRow label="Role" pointer={`${base}/role`} choices={same(...roles)} />
      <TextRow label="Terminal" pointer={`${base}/terminal`} />
      <ChoiceRow label="Wiring" pointer={`${base}/wiring`} choices={same("normally open", "normally closed")} />
      <ChoiceRow label="Taken as made when" pointer={`${base}/level`} choices={same("low", "high")} />
      <QuantityRow pointer={`${base}/filter`} kind="time" />
      {may("technician") && (
        <button
          type="button"
          className="link ml-4 inline-flex items-center gap-1.5 text-[14px]"
          onClick={() => void keep("/inputs", (before: Input[]) => before.filter((_, at) => at !== index))}
        >
          <Trash2 size={14} /> Remove this input
        </button>
      )}
    </div>
  );
}

function Outputs({ chosen, onChoose }: { chosen: number; onChoose: (index: number) => void }) {
  const outputRoles = useVocabulary((words) => words.output_roles);
  const outputs = useSetup((setup) => setup?.outputs) ?? [];
  const reported = useLive((live) => live.reported?.outputs);
  const base = `/outputs/${chosen}`;
  return (
    <>
      <ul>
        {outputs.map((entry, index) => (
          <li key={entry.number}>
            <button
              type="button"
              className={`flex min-h-10 w-full items-center gap-2.5 px-4 text-left ${index === chosen ? "bg-dim-wash" : ""}`}
              aria-pressed={index === chosen}
              onClick={() => onChoose(index)}
            >
              <Lamp made={reported?.[entry.name]} />
              <span className="flex-1 truncate">
                {entry.name} <span className="text-[13.5px] text-ink-3">{entry.terminal}</span>
              </span>
              <span className="font-mono text-[13px] text-ink-2">
                {entry.word_on} / {entry.word_off}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {outputs[chosen] && (
        <div className="border-y border-rule bg-sheet/60 py-1.5">
          <TextRow label="Name" pointer={`${base}/name`} />
          <ChoiceRow label="Role" pointer={`${base}/role`} choices={outputRoles.map((role) => [role, role])} />
          <TextRow label="Terminal" pointer={`${base}/terminal`} />
          <TextRow label="Word on" pointer={`${base}/word_on`} />
          <TextRow label="Word off" pointer={`${base}/word_off`} />
          <QuantityRow pointer={`${base}/seconds`} kind="time" />
          {may("technician") && (
            <button
              type="button"
              className="link ml-4 inline-flex items-center gap-1.5 text-[14px]"
              onClick={() => void edit("/outputs", (before: Output[]) => before.filter((_, index) => index !== chosen))}
            >
              <Trash2 size={14} /> Remove this output
            </button>
          )}
        </div>
      )}
    </>
  );
}

function NumberRow({ label, pointer }: { label: string; pointer: string }) {
  const id = useId();
  const value = useSetup((setup) => setup?.inputs[Number(pointer.split("/")[2])]?.number);
  const [trouble, setTrouble] = useState("");
  return (
    <>
      <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
        <label htmlFor={id}>{label}</label>
        <select
          id={id}
          className="choice"
          value={value}
          disabled={!may("technician")}
          onChange={async (event) => {
            const faults = await edit(pointer, Number(event.currentTarget.value));
            setTrouble(faults.map((fault) => fault.what).join(" "));
          }}
        >
          {Array.from({ length: 64 }, (_, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the numbers themselves
            <option key={index}>{index + 1}</option>
          ))}
        </select>
      </div>
      {trouble && <p className="says wrong">{trouble}</p>}
    </>
  );
}

function Findings() {
  const signals = usePreview((answer) => answer?.signals);
  const conflicts = (usePreview((answer) => answer?.conflicts) ?? []).filter((finding) =>
    finding.quantity?.match(/^\/(in|out)puts/),
  );
  const reported = [...conflicts, ...(signals?.findings ?? [])];
  return (
    <section aria-label="Findings">
      <h3 className="flex justify-between px-3.5 pt-3 pb-2 font-semibold">
        Findings <span className="font-normal text-ink-3">{reported.length}</span>
      </h3>
      {reported.length === 0 && <p className="px-3.5 text-ink-2">Nothing to say about these signals.</p>}
      <ul>
        {reported.map((finding) => (
          <FindingItem key={finding.message} finding={finding} />
        ))}
      </ul>
    </section>
  );
}
