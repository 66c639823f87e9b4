/** Inputs as lamps, distinguished by shape; on the practice machine one presses, lets go, unplugs. */
import { Plug, Unplug } from "lucide-react";
import { is } from "../session/session";
import { useMachine, useSetup } from "../work/document";
import { useLive } from "./live";

export function Lamp({ made }: { made: boolean | undefined }) {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden>
      {made === undefined ? (
        <path d="M4 4 12 12M12 4 4 12" stroke="var(--ink-3)" strokeWidth="1.5" />
      ) : (
        <circle
          cx="8"
          cy="8"
          r="6"
          fill={made ? "var(--now)" : "var(--raise)"}
          stroke={made ? "var(--now)" : "var(--ink-3)"}
          strokeWidth="1.75"
        />
      )}
    </svg>
  );
}

export function Lamps() {
  const inputs = useSetup((setup) => setup?.inputs) ?? [];
  const reported = useLive((live) => live.reported?.inputs);
  if (inputs.length === 0)
    return <p className="p-2 text-[14px] text-ink-2">No inputs yet; add them on the Signals stage.</p>;
  return (
    <ul className="min-h-0 overflow-auto py-1" aria-label="Inputs">
      {inputs.map((entry) => (
        <InputLamp key={entry.number} number={entry.number} name={entry.name} made={reported?.[entry.name]} />
      ))}
    </ul>
  );
}

function InputLamp({ number, name, made }: { number: number; name: string; made: boolean | undefined }) {
  const practice = useMachine((machine) => machine?.agent === "");
  return (
    <li className="flex min-h-9 items-center gap-2 pr-1 pl-2.5 text-[14.5px]" data-input={number}>
      <Lamp made={made} />
      <span className="min-w-0 flex-1 truncate" title={name}>
        {name}
        <span className="sr-only">, {made === undefined ? "not reported" : made ? "made" : "idle"}</span>
      </span>
      {practice && is("technician") && <Hands number={number} name={name} />}
    </li>
  );
}

/** The technician's hands at the practice machine: actuate an input and release it; take its lead out. */
export function Hands({ number, name }: { number: number; name: string }) {
  const role = useSetup((setup) => setup?.inputs.find((entry) => entry.number === number)?.role);
  const made = useLive((live) => live.hands?.made.includes(number)) ?? false;
  const out = useLive((live) => (live.hands?.leads[number] ?? "sound") !== "sound");
  const { handle } = useLive.getState();
  const press = () =>
    handle(role === "air" ? { do: "air", enough: !made } : { do: "make", input: number, made: !made });
  return (
    <>
      <button
        type="button"
        className="button plain min-h-8! px-1.5! text-[13px]"
        aria-pressed={made}
        aria-label={`${made ? "Release" : "Actuate"} ${name}`}
        onClick={() => void press()}
      >
        {made ? "release" : "actuate"}
      </button>
      <button
        type="button"
        className="button plain min-h-8! px-1.5!"
        aria-label={`${out ? "Plug in" : "Unplug"} ${name}`}
        title={out ? "Plug its lead in" : "Unplug its lead"}
        onClick={() => void handle({ do: "lead", input: number, state: out ? "sound" : "broken" })}
      >
        {out ? <Unplug size={15} className="text-stop" /> : <Plug size={15} />}
      </button>
    </>
  );
}
