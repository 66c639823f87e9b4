/** The machine's name, the line of stages with a mark each, and who is signed in. */
import { HistoryIcon, LogOut, Menu, Moon, Sun, Undo2 } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { Link, NavLink } from "react-router";
import { Mark, StageMark } from "../common/marks";
import { useShell } from "../common/shell-state";
import { useUnit } from "../fields/rows";
import { useSession } from "../session/session";
import { type Saving, useDocument, useMachine, useSaving, useSetup, useSlug } from "../work/document";
import { undo } from "../work/editing";
import { place, said } from "../work/naming";

import type { Deed } from "./commands";

const SAYS: Record<Saving, string> = {
  saved: "saved",
  saving: "saving…",
  offline: "no connection; kept here",
  "signed-out": "signed out",
  conflict: "conflict",
  refused: "not saved",
};

export function TopBar({ deeds }: { deeds: Deed[] }) {
  const machine = useSetup((setup) => setup?.machine);
  const inMachine = useSlug() !== null;
  return (
    <header className="no-print flex h-14 items-stretch border-b border-rule bg-panel">
      <Link
        to="/"
        className="flex w-[292px] shrink-0 items-center gap-2.5 border-r border-rule px-4 max-[1500px]:w-[216px] max-[1100px]:w-[132px] max-[1100px]:px-2"
        title="To the shop"
      >
        <Mark />
        <span className="truncate">
          <b className="text-[19px] font-semibold">{inMachine ? (machine?.name ?? "…") : "Orthotrope"}</b>{" "}
          <span className="text-[14px] text-ink-2">{inMachine ? machine?.description : ""}</span>
        </span>
      </Link>
      {inMachine ? <StageLine /> : <div className="flex-1" />}
      <Side deeds={deeds} inMachine={inMachine} />
    </header>
  );
}

function StageLine() {
  const stages = useMachine((machine) => machine?.stages) ?? [];
  const slug = useSlug();
  const stale = useMachine((machine) => machine?.proof?.changes[0]);
  const unit = useUnit();
  const since = stale
    ? ` ${place(stale.where)} was ${said(stale.before, stale.unit, unit)}, is now ${said(stale.after, stale.unit, unit)}.`
    : "";
  return (
    <nav
      aria-label="Stages"
      className="relative flex min-w-0 flex-1 items-stretch justify-evenly px-6 max-[1500px]:px-1"
    >
      <div className="absolute top-[19px] right-[12%] left-[12%] h-[1.5px] bg-rule" />
      {stages.map((stage) => (
        <NavLink
          key={stage.name}
          to={`/machines/${slug}/${stage.name.toLowerCase()}`}
          title={stage.mark === "stale" && stage.name !== "Signals" ? stage.why + since : stage.why}
          className={({ isActive }) =>
            `relative flex min-w-0 max-w-24 flex-1 flex-col items-center gap-[3px] pt-2.5 text-[15px] ${isActive ? "font-semibold shadow-[inset_0_-3px_var(--now)]" : "text-ink-2"}`
          }
        >
          <StageMark mark={stage.mark} />
          {stage.name}
          <span className="sr-only">, {stage.mark}</span>
        </NavLink>
      ))}
    </nav>
  );
}

const ICON = "button plain border-0! bg-transparent! px-2.5!";

function Side({ deeds, inMachine }: { deeds: Deed[]; inMachine: boolean }) {
  const ground = useShell((shell) => shell.ground);
  const canUndo = useDocument((work) => work.done.length > 0 && !work.looking);
  const { turnGround, set } = useShell.getState();
  return (
    <div className="flex items-center gap-1 border-l border-rule px-2">
      {inMachine && (
        <>
          <Saved />
          <button
            type="button"
            className={ICON}
            disabled={!canUndo}
            onClick={() => void undo()}
            aria-label="Undo"
            title="Undo (Ctrl Z)"
          >
            <Undo2 size={18} />
          </button>
          <button
            type="button"
            className={ICON}
            onClick={() => set({ open: "history" })}
            aria-label="History"
            title="History (H)"
          >
            <HistoryIcon size={18} />
          </button>
        </>
      )}
      <button type="button" className={ICON} onClick={turnGround} aria-label="Light / dark" title="Light / dark (D)">
        {ground === "dark" ? <Sun size={18} /> : <Moon size={18} />}
      </button>
      <Commands deeds={deeds} />
    </div>
  );
}

/** Whether the server has everything; what it has not leads to the list of it. */
function Saved() {
  const saving = useSaving();
  const trouble = useDocument((work) => work.trouble);
  const left = useDocument((work) => work.left);
  const drafts = useDocument((work) => work.drafts);
  const unsent = Object.keys(drafts).map(place);
  const fine = !unsent.length && (saving === "saved" || saving === "saving");
  return (
    <span role="status" data-saving={unsent.length ? "unsent" : saving} className="max-w-44 truncate">
      {fine && !trouble && !left ? (
        <span className="px-1 text-[13.5px] text-ink-3">{SAYS[saving]}</span>
      ) : (
        <button
          type="button"
          className={`min-h-10 max-w-full truncate px-1 text-[13.5px] font-semibold underline ${fine ? "text-warn" : "text-stop"}`}
          onClick={() => useShell.getState().set({ open: "unsent" })}
        >
          {unsent.length ? `not saved yet: ${unsent.join(", ")}` : fine ? "a note" : SAYS[saving]}
        </button>
      )}
    </span>
  );
}

function Commands({ deeds }: { deeds: Deed[] }) {
  const session = useSession((signed) => signed.session);
  const { set } = useShell.getState();
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="button plain">
        <Menu size={16} /> {session?.user ?? ""}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 min-w-64 border border-ink bg-panel p-1">
          <div className="px-3 py-1.5 text-[13.5px] text-ink-2">
            signed in as {session?.user}, {session?.role}
          </div>
          {deeds
            .filter((deed) => /Download|schema|History|undone|Help|shop/.test(deed.name))
            .map((deed) => (
              <DropdownMenu.Item
                key={deed.name}
                onSelect={deed.run}
                className="flex min-h-10 cursor-pointer items-center justify-between px-3 data-[highlighted]:bg-now-wash"
              >
                {deed.name} <span className="font-mono text-[13px] text-ink-3">{deed.keys}</span>
              </DropdownMenu.Item>
            ))}
          <DropdownMenu.Item
            onSelect={() => set({ open: "palette" })}
            className="flex min-h-10 cursor-pointer items-center justify-between px-3 data-[highlighted]:bg-now-wash"
          >
            All commands <span className="font-mono text-[13px] text-ink-3">Ctrl K</span>
          </DropdownMenu.Item>
          <DropdownMenu.Item
            onSelect={() => void useSession.getState().leave()}
            className="flex min-h-10 cursor-pointer items-center gap-2 border-t border-rule px-3 data-[highlighted]:bg-now-wash"
          >
            <LogOut size={15} /> Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
