/** What can be undone and redone in this browser, the newest first. */

import { Dialog } from "../common/dialog";
import { useShell } from "../common/shell-state";
import { useUnit } from "../fields/rows";
import { when } from "../quantity/when";
import { type Step, useDocument } from "../work/document";
import { redo, undo } from "../work/editing";
import { place, said, unitAt } from "../work/naming";

export function UndoList() {
  const open = useShell((shell) => shell.open === "undo");
  const done = useDocument((work) => work.done);
  const undone = useDocument((work) => work.undone);
  return (
    <Dialog open={open} onClose={() => useShell.getState().set({ open: null })} title="Undo and redo" wide>
      <p className="mt-2 text-ink-2">
        {done.length || undone.length
          ? "Your edits in this browser. What others have changed since stays as it is."
          : "Nothing to undo. Edits that you make in this browser are listed here."}
      </p>
      <ol className="mt-3" aria-label="Edits">
        {undone.map((step, index) => (
          <Row key={`undone ${step.at} ${step.key}`} step={step} undone onDo={() => void times(index + 1, redo)} />
        ))}
        {[...done].reverse().map((step, index) => (
          <Row key={`done ${step.at} ${step.key}`} step={step} onDo={() => void times(index + 1, undo)} />
        ))}
      </ol>
    </Dialog>
  );
}

async function times(count: number, run: () => Promise<void>) {
  for (let k = 0; k < count; k++) await run();
}

function Row({ step, undone, onDo }: { step: Step; undone?: boolean; onDo: () => void }) {
  const unit = useUnit();
  const of = unitAt(step.key);
  const what = step.key ? place(step.key) : "The whole Setup";
  return (
    <li className="grid min-h-11 grid-cols-[130px_1fr_auto] items-center gap-3 border-t border-rule-2 text-[14.5px]">
      <span className="text-[13.5px] text-ink-3">{when(step.at)}</span>
      <span className={undone ? "text-ink-3" : ""}>
        {what}: {said(step.before, of, unit)} → <b className="font-medium">{said(step.after, of, unit)}</b>
      </span>
      <button type="button" className="link" onClick={onDo} aria-label={`${undone ? "Redo" : "Undo"} up to: ${what}`}>
        {undone ? "redo to here" : "undo to here"}
      </button>
    </li>
  );
}
