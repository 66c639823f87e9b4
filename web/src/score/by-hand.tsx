/** A parameter or an input that is set by hand at the block that is looked at; the program goes on with it. */
import { useId, useState } from "react";
import { setByHand } from "../work/choosing";
import { useSetup } from "../work/document";
import { type ByHand, useSelection } from "../work/selection";

/** What is meant by what was entered: "#139" or "139", and a number; null: it is neither. */
export function meant(what: string, value: string, after: number): ByHand | null {
  const input = /^input (\d+)$/.exec(what);
  if (input) return { after, parameter: 0, input: Number(input[1]), value: value === "made" ? 1 : 0 };
  const parameter = /^#?(\d{1,4})$/.exec(what.trim());
  const number = Number(value.trim().replace("−", "-").replace(",", "."));
  if (!parameter || !Number(parameter[1]) || value.trim() === "" || !Number.isFinite(number)) return null;
  return { after, parameter: Number(parameter[1]), input: 0, value: number };
}

export function ByHandForm({ block }: { block: number }) {
  const id = useId();
  const inputs = useSetup((setup) => setup?.inputs) ?? [];
  const byHand = useSelection((work) => work.byHand);
  const [what, setWhat] = useState("parameter");
  const [parameter, setParameter] = useState("");
  const [value, setValue] = useState("");
  const [wrong, setWrong] = useState("");
  const ofInput = what !== "parameter";
  const named = (entry: ByHand) =>
    entry.input
      ? `${inputs.find((one) => one.number === entry.input)?.name ?? `input ${entry.input}`} ${entry.value ? "made" : "idle"}`
      : `#${entry.parameter} = ${entry.value}`;
  return (
    <form
      className="px-3.5 pt-2 text-[14px]"
      onSubmit={(event) => {
        event.preventDefault();
        const entry = meant(ofInput ? what : parameter, ofInput ? value || "made" : value, block + 1);
        setWrong(entry ? "" : "Enter a parameter's number from 1 to 9999, and a number as its value.");
        if (entry) void setByHand([...byHand, entry]);
      }}
    >
      <div className="flex flex-wrap items-center gap-1.5">
        <label htmlFor={id}>Set by hand</label>
        <select
          id={id}
          className="choice w-auto! border border-rule px-1 text-left!"
          value={what}
          onChange={(event) => {
            setWhat(event.currentTarget.value);
            setValue(event.currentTarget.value === "parameter" ? "" : "made");
          }}
        >
          <option value="parameter">parameter</option>
          {inputs.map((entry) => (
            <option key={entry.number} value={`input ${entry.number}`}>
              {entry.name}
            </option>
          ))}
        </select>
        {ofInput ? (
          <StateField value={value} onValue={setValue} />
        ) : (
          <ParameterFields parameter={parameter} onParameter={setParameter} value={value} onValue={setValue} />
        )}
        <button type="submit" className="button plain min-h-9! px-2!">
          Set
        </button>
      </div>
      {wrong && (
        <p role="alert" className="text-stop">
          {wrong}
        </p>
      )}
      {byHand.length > 0 && <Done byHand={byHand} named={named} />}
    </form>
  );
}

interface ValueProps {
  value: string;
  onValue: (value: string) => void;
}

function StateField({ value, onValue }: ValueProps) {
  return (
    <select
      aria-label="State of the input"
      className="choice w-auto! border border-rule px-1 text-left!"
      value={value}
      onChange={(event) => onValue(event.currentTarget.value)}
    >
      <option value="made">made</option>
      <option value="idle">idle</option>
    </select>
  );
}

function ParameterFields({
  parameter,
  onParameter,
  value,
  onValue,
}: ValueProps & { parameter: string; onParameter: (text: string) => void }) {
  return (
    <>
      <input
        aria-label="Number of the parameter"
        placeholder="#139"
        className="min-h-9 w-14 border border-rule px-1 font-mono"
        value={parameter}
        onChange={(event) => onParameter(event.currentTarget.value)}
      />
      <input
        aria-label="Value of the parameter"
        placeholder="value"
        inputMode="decimal"
        className="min-h-9 w-16 border border-rule px-1 text-right"
        value={value}
        onChange={(event) => onValue(event.currentTarget.value)}
      />
    </>
  );
}

/** What has been set by hand, and the way back. */
function Done({ byHand, named }: { byHand: ByHand[]; named: (entry: ByHand) => string }) {
  return (
    <div className="mt-1 border border-now px-2 py-1" role="status">
      <p>From here on it is run with what was set by hand:</p>
      <ul aria-label="Set by hand">
        {byHand.map((entry) => (
          <li key={`${entry.after} ${entry.parameter} ${entry.input}`} className="flex justify-between">
            <span className="font-mono text-[13.5px]">{named(entry)}</span>
            <span className="text-ink-3">before block {entry.after + 1}</span>
          </li>
        ))}
      </ul>
      <button type="button" className="link" onClick={() => void setByHand([])}>
        Undo all of it
      </button>
    </div>
  );
}
