/** The same value for several tools at once: one edit, and one step to take back. */
import { useState } from "react";
import type { Kind, Tool } from "../../api/client";
import { described, useUnit } from "../../fields/rows";
import { understand } from "../../fields/understand";
import { unitOf } from "../../quantity/format";
import { edit } from "../../work/editing";
import { useVocabulary } from "../../work/vocabulary";

/** What can be set for several; null where a text is chosen. */
const FIELDS: [keyof Tool & string, string, Kind | null][] = [
  ["type", "type", null],
  ["diameter", "diameter", "length"],
  ["stick_out", "stick-out", "length"],
  ["breakage", "breakage tolerance", "length"],
  ["collar_scatter", "scatter with its collar", "length"],
  ["flutes", "flutes", "count"],
  ["greatest_speed", "greatest speed", "speed"],
  ["fetched_a_shift", "fetched in a shift", "count"],
];

interface Props {
  numbers: number[];
  onDone: () => void;
}

/** What is set, and setting it; what went wrong is reported. */
function useMany({ numbers, onDone }: Props) {
  const unit = useUnit();
  const types = useVocabulary((words) => words.tool_types);
  const [field, setField] = useState<keyof Tool & string>("stick_out");
  const [text, setText] = useState("");
  const [trouble, setTrouble] = useState("");
  const kind = FIELDS.find(([name]) => name === field)?.[2] ?? null;
  const editAll = (change: (now: Tool[]) => Tool[]) => edit("/tools", change);
  const apply = async () => {
    let value: number | string = text || (types[0] ?? "");
    if (kind) {
      const found = await understand(text, kind, unit).catch(() => null);
      if (!found || found.value === null) return setTrouble(found?.what ?? "No connection to the server.");
      value = found.value;
    }
    const set = (tool: Tool) => (numbers.includes(tool.number) ? { ...tool, [field]: value } : tool);
    const said = described(await editAll((now) => now.map(set)));
    setTrouble(said);
    if (!said) setText("");
  };
  const remove = async () => {
    const faults = await editAll((now) => now.filter((tool) => !numbers.includes(tool.number)));
    setTrouble(described(faults));
    if (!faults.length) onDone();
  };
  const choose = (name: string) => {
    setField(name as typeof field);
    setText("");
  };
  return { field, choose, kind, text, setText, types, trouble, apply, remove };
}

export function ManyBar(props: Props) {
  const many = useMany(props);
  const { numbers, onDone } = props;
  return (
    <section
      aria-label="Several tools"
      className="flex flex-wrap items-center gap-2 bg-now-wash px-4 py-1.5 text-[14.5px]"
    >
      <b className="font-semibold">
        {numbers.length} {numbers.length === 1 ? "tool" : "tools"}
      </b>
      <select
        className="choice w-48! border border-ink! px-1 text-left!"
        aria-label="What to set"
        value={many.field}
        onChange={(event) => many.choose(event.currentTarget.value)}
      >
        {FIELDS.map(([name, label]) => (
          <option key={name} value={name}>
            {label}
          </option>
        ))}
      </select>
      <Value {...many} />
      <button
        type="button"
        className="button first min-h-9!"
        disabled={many.kind !== null && !many.text}
        onClick={() => void many.apply()}
      >
        Set for all
      </button>
      <button type="button" className="button plain min-h-9!" onClick={() => void many.remove()}>
        Remove them
      </button>
      <button type="button" className="button plain min-h-9!" onClick={onDone}>
        Cancel
      </button>
      {many.trouble && (
        <p role="alert" className="w-full text-stop">
          {many.trouble}
        </p>
      )}
    </section>
  );
}

/** The value for all of them: typed, or a type chosen. */
function Value({ kind, text, setText, types, apply }: ReturnType<typeof useMany>) {
  const unit = useUnit();
  if (!kind)
    return (
      <select
        className="choice w-48! border border-ink! px-1 text-left!"
        aria-label="Value for all of them"
        value={text || types[0]}
        onChange={(event) => setText(event.currentTarget.value)}
      >
        {types.map((type) => (
          <option key={type}>{type}</option>
        ))}
      </select>
    );
  return (
    <label className="flex items-center gap-1">
      <input
        className="field w-24! border border-ink!"
        aria-label="Value for all of them"
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
        onKeyDown={(event) => event.key === "Enter" && void apply()}
      />
      {unitOf(kind, unit)}
    </label>
  );
}
