/** Jogging by buttons and by keys; the keys act only while the panel is armed. */
import { useEffect } from "react";
import { useShell } from "../common/shell-state";
import { QuantityInput } from "../fields/quantity-input";
import { useUnit } from "../fields/rows";
import { shown, unitOf } from "../quantity/format";
import { is } from "../session/session";
import { useMachine } from "../work/document";
import { AXES, type Axis, useLive } from "./live";

const STEPS: Record<"mm" | "inch", (number | null)[]> = {
  mm: [0.01, 0.1, 1, 10, null],
  inch: [0.0254, 0.254, 2.54, 25.4, null],
};

const KEYS: Record<string, [Axis, 1 | -1]> = {
  ArrowRight: ["X", 1],
  ArrowLeft: ["X", -1],
  ArrowUp: ["Y", 1],
  ArrowDown: ["Y", -1],
  PageUp: ["Z", 1],
  PageDown: ["Z", -1],
};

/** Arrows for X and Y, page keys for Z, Escape disarms and stops. */
export function useJogKeys() {
  const armed = useLive((live) => live.armed);
  useEffect(() => {
    if (!armed) return;
    const { jog, release, set, send } = useLive.getState();
    const down = (event: KeyboardEvent) => {
      if (/^(INPUT|SELECT|TEXTAREA)$/.test((event.target as HTMLElement).tagName)) return;
      if (event.key === "Escape") {
        set({ armed: false });
        release();
        void send({ do: "stop" });
        return;
      }
      const wanted = KEYS[event.key];
      if (!wanted) return;
      event.preventDefault();
      event.stopPropagation();
      if (!event.repeat) jog(...wanted);
    };
    const up = (event: KeyboardEvent) => KEYS[event.key] && release();
    const away = () => release();
    window.addEventListener("keydown", down, true);
    window.addEventListener("keyup", up, true);
    window.addEventListener("blur", away);
    return () => {
      window.removeEventListener("keydown", down, true);
      window.removeEventListener("keyup", up, true);
      window.removeEventListener("blur", away);
      release();
    };
  }, [armed]);
}

export function JogPad() {
  const { armed, step, creep } = useLive();
  const unit = useUnit();
  const practice = useMachine((machine) => machine?.agent === "");
  const able = is("technician") && practice;
  const { set } = useLive.getState();
  const fits = STEPS[unit].includes(step);
  useEffect(() => {
    if (!fits) set({ step: STEPS[unit][2], feed: unit === "inch" ? 80 * 25.4 : 2000 });
  }, [fits, unit, set]);
  return (
    <fieldset disabled={!able} className="flex min-w-0 flex-col gap-1 p-2 disabled:opacity-50" aria-label="Jog">
      <div className="segmented self-stretch" role="group" aria-label="Step">
        {STEPS[unit].map((entry) => (
          <button
            key={String(entry)}
            type="button"
            className="min-w-0! flex-1 px-0!"
            aria-pressed={step === entry}
            title={entry === null ? "Moves for as long as it is held" : `${shown(entry, "length", unit, true)} a press`}
            onClick={() => set({ step: entry })}
          >
            {entry === null ? "hold" : entry / (unit === "inch" ? 25.4 : 1)}
          </button>
        ))}
      </div>
      <div className="grid grid-cols-3 gap-1">
        {AXES.flatMap((axis) => [<JogButton key={`${axis}+`} axis={axis} sign={1} />])}
        {AXES.map((axis) => (
          <JogButton key={`${axis}-`} axis={axis} sign={-1} />
        ))}
      </div>
      <div className="grid grid-cols-[1fr_auto] items-center gap-2 text-[14px]">
        <Feed />
        <label className="flex items-center gap-1" title="Slowly, past the soft limits: to find the end of the travel">
          <input type="checkbox" checked={creep} onChange={(event) => set({ creep: event.currentTarget.checked })} />{" "}
          creep
        </label>
      </div>
      <button
        type="button"
        aria-pressed={armed}
        className={`button plain min-h-9! ${armed ? "border-now! bg-now-wash! text-now" : ""}`}
        title="Arrow keys move X and Y, page keys Z; Escape stops"
        onClick={() => {
          set({ armed: !armed });
          if (!useShell.getState().panel) useShell.getState().turnPanel();
        }}
      >
        {armed ? "Keys armed · Esc stops" : "Arm the keys"}
      </button>
    </fieldset>
  );
}

function Feed() {
  const feed = useLive((live) => live.feed);
  const unit = useUnit();
  return (
    <span className="flex items-center gap-1 text-ink-2">
      feed
      <QuantityInput
        label="Jog feed"
        value={feed}
        kind="feed"
        unit={unit}
        onCommit={async (value) => {
          useLive.setState({ feed: value });
          return [];
        }}
        onSays={() => {}}
      />
      <span className="text-[12px] whitespace-nowrap text-ink-3 max-[1100px]:hidden">{unitOf("feed", unit)}</span>
    </span>
  );
}

function JogButton({ axis, sign }: { axis: Axis; sign: 1 | -1 }) {
  const { jog, release } = useLive.getState();
  const name = `${axis} ${sign > 0 ? "plus" : "minus"}`;
  return (
    <button
      type="button"
      aria-label={`Jog ${name}`}
      className="button plain min-h-9! px-0! touch-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        jog(axis, sign);
      }}
      onPointerUp={release}
      onPointerCancel={release}
      onLostPointerCapture={release}
      onKeyDown={(event) => (event.key === "Enter" || event.key === " ") && !event.repeat && jog(axis, sign)}
      onKeyUp={(event) => (event.key === "Enter" || event.key === " ") && release()}
    >
      {axis} {sign > 0 ? "+" : "−"}
    </button>
  );
}
