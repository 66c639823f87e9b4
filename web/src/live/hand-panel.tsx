/** The hand panel, on every stage: the machine's state in a bar at the foot, and opened, all that one does at the machine. */
import { ChevronDown, ChevronUp, House, Pause, Play, RotateCcw, Square, Wrench } from "lucide-react";
import type React from "react";
import { useEffect, useState } from "react";
import { useShell } from "../common/shell-state";
import { useUnit } from "../fields/rows";
import { shown } from "../quantity/format";
import { useLoadedReadings } from "../readings/readings";
import { is } from "../session/session";
import { useMachine, useSlug } from "../work/document";
import { Capture } from "./capture";
import { JogPad, useJogKeys } from "./jog-pad";
import { Lamps } from "./lamps";
import { useLive } from "./live";
import { Positions } from "./positions";
import { PracticeDialog } from "./practice-dialog";

export function HandPanel() {
  const slug = useSlug();
  const open = useShell((shell) => shell.panel);
  const loaded = useMachine((machine) => machine !== null);
  const from = useMachine((machine) => `${machine?.agent ?? ""} ${machine?.device ?? ""}`);
  useEffect(() => {
    if (!slug || !loaded) return;
    useLive.getState().follow(slug, from);
    return () => useLive.getState().leave();
  }, [slug, loaded, from]);
  useLoadedReadings(loaded ? slug : null);
  useJogKeys();
  if (!slug) return null;
  return (
    <section aria-label="Hand panel" className="no-print border-t-[1.5px] border-ink bg-panel">
      <Bar open={open} />
      {open && (
        <div className="grid h-[208px] grid-cols-[176px_minmax(290px,1fr)_200px_232px_minmax(300px,1.1fr)] divide-x divide-rule border-t border-rule max-[1100px]:grid-cols-[138px_minmax(0,1fr)_166px_176px_256px]">
          <State />
          <Positions />
          <JogPad />
          <Lamps />
          <Capture />
        </div>
      )}
    </section>
  );
}

const SHAPE = { connecting: "◌", connected: "●", slow: "◐", lost: "✕" };
const TONE = { connecting: "text-ink-3", connected: "text-proven", slow: "text-warn", lost: "text-stop" };

function Bar({ open }: { open: boolean }) {
  const { standing, says, age } = useLive((live) => live.link);
  const alarm = useLive((live) => live.reported?.alarm ?? "");
  const execution = useLive((live) => live.reported?.execution ?? "");
  const armed = useLive((live) => live.armed);
  const homed = useLive((live) => live.reported?.homed);
  const practice = useMachine((machine) => machine?.agent === "");
  const none = practice && says.includes("no device");
  if (none)
    return (
      <BarLine open={open}>
        <span role="status" data-standing="none" className="min-w-0 flex-1 truncate">
          <b className="font-semibold">No practice machine yet</b>
          <span className="text-ink-2"> · build one in the hand panel</span>
        </span>
      </BarLine>
    );
  const doing = execution === "READY" && homed === false ? "not homed" : (WORDS[execution] ?? execution.toLowerCase());
  const old = standing !== "connected" && age !== null ? ` Last heard ${age.toFixed(0)} s ago.` : "";
  return (
    <BarLine open={open}>
      <span className={TONE[standing]} aria-hidden>
        {SHAPE[standing]}
      </span>
      <span role="status" data-standing={standing} className="min-w-0 flex-1 truncate">
        <b className="font-semibold">Machine {standing}</b>
        <span className={standing === "lost" ? "text-stop" : "text-ink-2"}>
          {says && ` · ${says}${old}`}
          {standing === "connected" && !alarm && ` · ${doing}`}
        </span>
        {alarm && <b className="font-semibold text-stop"> · {alarm}</b>}
      </span>
      {!open && <SmallPositions />}
      {armed && <b className="font-semibold text-now">keys armed</b>}
    </BarLine>
  );
}

function BarLine({ open, children }: { open: boolean; children: React.ReactNode }) {
  return (
    <div className="flex h-10 items-center gap-4 pr-2 pl-3.5">
      {children}
      <button
        type="button"
        className="button plain min-h-8!"
        aria-expanded={open}
        onClick={() => useShell.getState().turnPanel()}
        title="Hand panel (P)"
      >
        Hand panel {open ? <ChevronDown size={16} /> : <ChevronUp size={16} />}
      </button>
    </div>
  );
}

function SmallPositions() {
  const position = useLive((live) => live.reported?.position);
  const homed = useLive((live) => live.reported?.homed);
  const unit = useUnit();
  if (!position || position.X === undefined || homed === false) return null; // before homing they are no places
  return (
    <span className="flex gap-4 text-[15px]">
      {(["X", "Y", "Z"] as const).map((axis) => (
        <span key={axis}>
          <span className="text-ink-3">{axis}</span> {shown(position[axis] ?? 0, "length", unit)}
        </span>
      ))}
    </span>
  );
}

export const WORDS: Record<string, string> = {
  READY: "ready",
  ACTIVE: "running",
  FEED_HOLD: "held",
  PROGRAM_STOPPED: "waits for you",
  STOPPED: "stopped",
  INTERRUPTED: "program aborted",
};

function State() {
  const practice = useMachine((machine) => machine?.agent === "");
  const [hands, setHands] = useState(false);
  const able = is("technician") && practice;
  const absent = useLive((live) => live.link.says.includes("no device"));
  return (
    <div className="flex min-h-0 flex-col gap-1.5 overflow-auto p-2 text-[14px]">
      <Buttons able={able} practice={practice} />
      {practice ? (
        <button type="button" className="link flex items-center gap-1.5 text-left" onClick={() => setHands(true)}>
          <Wrench size={14} /> Practice machine
        </button>
      ) : (
        <p className="text-ink-3">Read through its agent; act at the machine.</p>
      )}
      {absent && able && (
        <button type="button" className="button plain px-1!" onClick={() => setHands(true)}>
          Build a practice machine
        </button>
      )}
      <Report />
      {hands && <PracticeDialog onClose={() => setHands(false)} />}
    </div>
  );
}

function Buttons({ able, practice }: { able: boolean; practice: boolean }) {
  const execution = useLive((live) => live.reported?.execution);
  const { send } = useLive.getState();
  const running = execution === "ACTIVE";
  const waits = execution === "FEED_HOLD" || execution === "PROGRAM_STOPPED";
  return (
    <div className="grid grid-cols-2 gap-1.5">
      <button
        type="button"
        className="button plain px-1!"
        disabled={!able || running}
        onClick={() => void send({ do: "home" })}
      >
        <House size={15} /> Home
      </button>
      {waits ? (
        <button
          type="button"
          className="button plain px-1!"
          disabled={!able}
          onClick={() => void send({ do: "go on" })}
        >
          <Play size={15} /> Go on
        </button>
      ) : (
        <button
          type="button"
          className="button plain px-1!"
          disabled={!able || !running}
          onClick={() => void send({ do: "hold" })}
        >
          <Pause size={15} /> Hold
        </button>
      )}
      <button
        type="button"
        className="button plain px-1!"
        disabled={!practice}
        onClick={() => void send({ do: "stop" })}
      >
        <Square size={15} /> Stop
      </button>
      <button type="button" className="button plain px-1!" disabled={!able} onClick={() => void send({ do: "reset" })}>
        <RotateCcw size={15} /> Reset
      </button>
    </div>
  );
}

/** What was refused, what is wrong, what the program says, or its block. */
function Report() {
  const reported = useLive((live) => live.reported);
  const refused = useLive((live) => live.refused);
  const trouble = refused || reported?.alarm;
  if (trouble)
    return (
      <p role="alert" className="leading-tight text-stop">
        {trouble}
      </p>
    );
  if (reported?.message) return <p className="leading-tight">“{reported.message}”</p>;
  if (!reported?.block) return null;
  return (
    <p className="truncate font-mono text-[12.5px]" title={reported.block}>
      {reported.line} {reported.block}
    </p>
  );
}
