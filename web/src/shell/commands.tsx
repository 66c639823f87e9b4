/** What can be done from the keyboard: the command palette, the shortcuts, and the sheet that lists them. */

import { Command } from "cmdk";
import { useEffect } from "react";
import { useNavigate } from "react-router";
import { Dialog } from "../common/dialog";
import { useShell } from "../common/shell-state";
import { sheetNow } from "../drawing/zoom-store";
import { useLive } from "../live/live";
import { save } from "../program/save";
import { may } from "../session/session";
import { isCurrentNow } from "../work/asking";
import { playedNow, slugNow, useMachine, useSlug } from "../work/document";
import { redo, undo } from "../work/editing";
import { goTo, play, seek, step, usePlayback } from "../work/playback";

export interface Deed {
  name: string;
  keys?: string;
  run: () => void;
}

export function useDeeds(): Deed[] {
  const slug = useSlug();
  const stages = useMachine((machine) => machine?.stages) ?? [];
  const navigate = useNavigate();
  const { set, turnGround } = useShell.getState();
  const always: Deed[] = [
    { name: "Go to the shop", keys: "G", run: () => navigate("/") },
    { name: "Light / dark", keys: "D", run: turnGround },
    { name: "Help: shortcuts", keys: "?", run: () => set({ open: "help" }) },
  ];
  if (!slug) return always;
  return [
    ...stages.map((stage, index) => ({
      name: `Go to ${stage.name}`,
      keys: String(index + 1),
      run: () => void navigate(`/machines/${slug}/${stage.name.toLowerCase()}`),
    })),
    { name: "Open or close the hand panel", keys: "P", run: () => useShell.getState().turnPanel() },
    {
      name: "Arm or disarm the jog keys",
      keys: "J",
      run: () => useLive.getState().set({ armed: !useLive.getState().armed && may("technician") }),
    },
    { name: "Home the machine", run: () => void useLive.getState().send({ do: "home" }) },
    { name: "Stop the machine", keys: "S", run: stop },
    { name: "Undo", keys: "Ctrl Z", run: () => void undo() },
    { name: "Redo", keys: "Ctrl Y", run: () => void redo() },
    { name: "List of what can be undone", keys: "U", run: () => set({ open: "undo" }) },
    { name: "Play or pause", keys: "Space", run: () => play(!usePlayback.getState().playing) },
    { name: "Next block", keys: "→", run: () => step(1) },
    { name: "Previous block", keys: "←", run: () => step(-1) },
    { name: "To the beginning", keys: "Home", run: () => seek(0) },
    { name: "To the end", keys: "End", run: () => seek(Number.MAX_VALUE) },
    { name: "Next finding", keys: "F", run: nextFinding },
    { name: "Zoom in on the sheet", keys: "+", run: () => sheetNow()?.zoom(1.35) },
    { name: "Zoom out on the sheet", keys: "-", run: () => sheetNow()?.zoom(1 / 1.35) },
    { name: "Fit the sheet", keys: "0", run: () => sheetNow()?.fit() },
    { name: "Measure on the sheet", keys: "M", run: () => sheetNow()?.measure() },
    { name: "Download the program text", run: downloadText },
    { name: "Download the Setup file", run: () => window.location.assign(`/api/machines/${slug}/file`) },
    { name: "Show the Setup file's schema", run: () => void window.open("/api/setup-schema", "_blank") },
    { name: "History", keys: "H", run: () => set({ open: "history" }) },
    { name: "Print", keys: "Ctrl P", run: () => window.print() },
    ...always,
  ];
}

function nextFinding() {
  const { chosen } = usePlayback.getState();
  const findings = playedNow()?.findings ?? [];
  const at = findings.findIndex((finding) => finding.message === chosen?.message);
  const next = findings[(at + 1) % Math.max(1, findings.length)];
  if (next) goTo(next);
}

function downloadText() {
  const played = isCurrentNow() ? playedNow() : null;
  const text = played?.texts.find((entry) => entry.profile === played.shown);
  if (text?.text) save(text.file, text.text);
}

/** Where keys belong to what has the focus: text, and what arrows move within. */
const TEXT = "input, select, textarea, [contenteditable='true']";
const OWN_ARROWS =
  "[role=listbox], [role=menu], [role=menuitem], [role=tablist], [role=radiogroup], [role=slider], [role=separator], [cmdk-root]";

function stop() {
  void useLive.getState().send({ do: "stop" });
}

const SINGLE: Record<string, string> = { " ": "Space", ArrowRight: "→", ArrowLeft: "←", Home: "Home", End: "End" };

export function useShortcuts(deeds: Deed[]) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const at = event.target as HTMLElement;
      const typing = at.matches?.(TEXT);
      const control = event.ctrlKey || event.metaKey;
      // Stopping the machine works everywhere: beneath dialogs, and with Ctrl in a field too.
      if ((control && event.key === ".") || (!typing && !control && !event.altKey && event.key.toLowerCase() === "s")) {
        event.preventDefault();
        if (slugNow()) stop();
        return;
      }
      if (document.querySelector("[role=dialog], [role=alertdialog], [role=menu]")) return;
      if (control && event.key.toLowerCase() === "k") {
        event.preventDefault();
        useShell.getState().set({ open: "palette" });
        return;
      }
      if (typing || event.altKey) return;
      if ((at.tagName === "BUTTON" || at.role === "button") && (event.key === " " || event.key === "Enter")) return;
      if (/^(Arrow|Home|End)/.test(event.key) && at.closest?.(OWN_ARROWS)) return;
      // A dimension that was just opened gets its field in a moment: what is typed already is its number's.
      if (/^[0-9.,+-]$/.test(event.key) && at.closest?.("[data-pointer]")) return;
      const key = SINGLE[event.key] ?? (event.key.length === 1 ? event.key.toUpperCase() : event.key);
      const wanted = control ? `Ctrl ${event.shiftKey && key === "Z" ? "Y" : key}` : key;
      const deed = deeds.find((entry) => entry.keys === wanted && entry.keys !== "Ctrl P");
      if (!deed || useShell.getState().open) return;
      event.preventDefault();
      deed.run();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [deeds]);
}

export function Palette({ deeds }: { deeds: Deed[] }) {
  const open = useShell((shell) => shell.open);
  const { set } = useShell.getState();
  if (open === "help")
    return (
      <Dialog open onClose={() => set({ open: null })} title="Shortcuts">
        <dl className="mt-3 grid grid-cols-[1fr_auto] gap-y-1.5">
          <dt>Command palette</dt>
          <dd className="font-mono text-[13px]">Ctrl K</dd>
          <dt>Stop the machine, in a field too</dt>
          <dd className="text-right font-mono text-[13px]">Ctrl .</dd>
          {deeds
            .filter((deed) => deed.keys)
            .map((deed) => (
              <div key={deed.name} className="contents">
                <dt>{deed.name}</dt>
                <dd className="text-right font-mono text-[13px]">{deed.keys}</dd>
              </div>
            ))}
        </dl>
        <p className="mt-4 text-[14px] text-ink-2">
          In a number: units and sums are understood, such as <b>1.5in</b>, <b>3/8 in</b> or <b>12.7 + 0.05</b>. Enter
          takes it, Escape leaves it as it was. On the drawing: Tab to a dimension, Enter edits it.
        </p>
      </Dialog>
    );
  return (
    <Dialog open={open === "palette"} onClose={() => set({ open: null })} title="Search commands">
      <Command className="mt-3" label="Commands">
        <Command.Input className="field text-left!" placeholder="type a few letters" autoFocus />
        <Command.List className="mt-2 max-h-[50vh] overflow-auto">
          <Command.Empty className="p-2 text-ink-2">No command found.</Command.Empty>
          {deeds.map((deed) => (
            <Command.Item
              key={deed.name}
              className="flex min-h-10 cursor-pointer items-center justify-between px-2 data-[selected=true]:bg-now-wash"
              onSelect={() => {
                set({ open: null });
                deed.run();
              }}
            >
              {deed.name} <span className="font-mono text-[13px] text-ink-3">{deed.keys}</span>
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </Dialog>
  );
}
