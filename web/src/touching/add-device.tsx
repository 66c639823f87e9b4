/** A new setter or probe: of which kind, on which input, in which tool. The server chooses its numbers, so that they go together. */
import { Plus } from "lucide-react";
import { useId, useState } from "react";
import type { Input, Tool } from "../api/client";
import { Dialog } from "../common/dialog";
import { described } from "../fields/rows";
import { useSetup } from "../work/document";
import { addToSetup } from "../work/editing";
import { useVocabulary } from "../work/vocabulary";
import { Made, sayMade } from "./made";

interface Props {
  what: "setter" | "probe";
  kinds: { kind: string; label: string; says?: string }[];
  onAdded: (name: string) => void;
}

export function AddDevice(props: Props) {
  const [open, setOpen] = useState(false);
  return (
    <div className="px-4 py-1.5">
      <button type="button" className="button plain min-h-10! px-2!" onClick={() => setOpen(true)}>
        <Plus size={15} /> Add a {props.what}
      </button>
      <Made what={props.what} />
      <Dialog open={open} onClose={() => setOpen(false)} title={`Add a ${props.what}`}>
        {open && <Choose {...props} onClose={() => setOpen(false)} />}
      </Dialog>
    </div>
  );
}

const NEW = "new";
const NONE: never[] = [];

type Choosing = Props & { onClose: () => void };

/** What is chosen for the new device, what fits it, and how it is added. */
function useChoice({ what, kinds, onAdded, onClose }: Choosing) {
  const inputs = useSetup((setup) => setup?.inputs) ?? NONE;
  const tools = useSetup((setup) => setup?.tools) ?? NONE;
  const probes = useSetup((setup) => setup?.probes) ?? NONE;
  const words = useVocabulary((all) => (what === "setter" ? all.setter_kinds : all.probe_kinds));
  const [kind, setKind] = useState(kinds[0]?.kind ?? "");
  const [input, setInput] = useState<string | null>(null);
  const [tool, setTool] = useState<string | null>(null);
  const [trouble, setTrouble] = useState("");
  const [busy, setBusy] = useState(false);
  const of = words[kind];
  const touches = touchInputs(
    inputs,
    useVocabulary((all) => all.touch_roles),
  );
  const usual = touches.find((entry) => entry.role === of?.roles[0]);
  const fit = tools.filter((entry) => !of?.tool_type || entry.type === of.tool_type);
  const free = fit.filter((entry) => !probes.some((probe) => probe.tool === entry.number));
  const chosenInput = input ?? (usual ? String(usual.number) : NEW);
  const chosenTool = tool ?? (of?.tool_type ? String(free[0]?.number ?? NEW) : "");
  const add = async () => {
    setBusy(true);
    const number = (text: string) => (text === NEW ? null : Number(text));
    const body = { kind, input: number(chosenInput), tool: what === "probe" ? number(chosenTool) : null };
    const { faults, name, says } = await addToSetup({ what, body });
    setBusy(false);
    setTrouble(described(faults));
    if (faults.length) return;
    sayMade(what, says.join(" "));
    onAdded(name);
    onClose();
  };
  return { kind, setKind, of, fit, touches, chosenTool, setTool, chosenInput, setInput, add, busy, trouble };
}

function Choose(props: Choosing) {
  const { what, kinds } = props;
  const { kind, setKind, of, fit, touches, add, busy, trouble, ...chosen } = useChoice(props);
  return (
    <div className="mt-3 grid gap-3">
      <fieldset className="grid gap-1">
        <legend className="sr-only">Kind</legend>
        {kinds.map((entry) => (
          <label key={entry.kind} className="flex min-h-10 items-center gap-2.5">
            <input type="radio" name="kind" checked={entry.kind === kind} onChange={() => setKind(entry.kind)} />
            <span>
              {entry.label}
              {entry.says && <span className="block text-[14px] text-ink-2">{entry.says}</span>}
            </span>
          </label>
        ))}
      </fieldset>
      {what === "probe" && (
        <Choice label="In the spindle as" value={chosen.chosenTool} onValue={chosen.setTool}>
          {!chosen.chosenTool && <option value="">choose the tool</option>}
          {fit.map((entry) => (
            <option key={entry.number} value={entry.number}>
              {named(entry)}
            </option>
          ))}
          <option value={NEW}>a new tool of the type {of?.tool_type || "probe"}</option>
        </Choice>
      )}
      <Choice label="Its input" value={chosen.chosenInput} onValue={chosen.setInput}>
        {touches.map((entry) => (
          <option key={entry.number} value={entry.number}>
            {entry.number} {entry.name}
          </option>
        ))}
        <option value={NEW}>a new input of the role {of?.roles[0] ?? "setter"}</option>
      </Choice>
      {trouble && (
        <p role="alert" className="text-stop">
          {trouble}
        </p>
      )}
      <button
        type="button"
        className="button first justify-self-start"
        disabled={busy || (what === "probe" && !chosen.chosenTool)}
        onClick={() => void add()}
      >
        {busy ? "Trying places…" : `Add the ${what}`}
      </button>
    </div>
  );
}

const named = (tool: Tool) => `T${tool.number} ${tool.name}`;

/** The inputs that a touch makes. */
export const touchInputs = (inputs: Input[], roles: string[]) => inputs.filter((entry) => roles.includes(entry.role));

function Choice(props: { label: string; value: string; onValue: (value: string) => void; children: React.ReactNode }) {
  const id = useId();
  return (
    <div className="grid grid-cols-[150px_1fr] items-center gap-2">
      <label htmlFor={id}>{props.label}</label>
      <select
        id={id}
        className="choice border border-ink! px-1 text-left!"
        value={props.value}
        onChange={(event) => props.onValue(event.currentTarget.value)}
      >
        {props.children}
      </select>
    </div>
  );
}
