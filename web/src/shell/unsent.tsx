/** What is not saved yet, and why; what undo left as it is, what was refused. */

import { Dialog } from "../common/dialog";
import { useShell } from "../common/shell-state";
import { useUnit } from "../fields/rows";
import type { MachineUnit } from "../quantity/format";
import { type Left, useDocument, useSaving } from "../work/document";
import type { Draft } from "../work/drafts";
import { forget } from "../work/editing";
import { place, said, unitAt } from "../work/naming";
import { resend } from "../work/resending";

const WHY = {
  saved: "",
  saving: "It is being sent.",
  offline: "No connection to the server; retrying. It is sent as soon as there is one.",
  "signed-out": "Your session has ended; sign in again and it is sent.",
  conflict: "Someone else changed the same value; choose which one to keep.",
  refused: "The server does not take it.",
};

function inWords(draft: Draft, unit: MachineUnit): string {
  if (draft.adding) return "to be added";
  if (Array.isArray(draft.base) && Array.isArray(draft.value)) {
    const more = draft.value.length - draft.base.length;
    return more > 0 ? `${more} more` : more < 0 ? `${-more} taken out` : "changed";
  }
  return draft.text ?? said(draft.value, unitAt(draft.key), unit);
}

/** Why undo has left quantities as they are. */
export function leftAlone({ keys, gone }: Left): string {
  const places = keys.map(place).join(", ");
  return gone
    ? `${places} is not in the Setup any more; there is nothing to undo of it.`
    : `${places} was changed by someone else since; it is left as it is.`;
}

export function Unsent() {
  const open = useShell((shell) => shell.open === "unsent");
  const { set } = useShell.getState();
  const drafts = useDocument((work) => work.drafts);
  const saving = useSaving();
  const trouble = useDocument((work) => work.trouble);
  const left = useDocument((work) => work.left);
  const unit = useUnit();
  const close = () => {
    useDocument.setState({ left: null, trouble: saving === "refused" ? trouble : null });
    set({ open: null });
  };
  const entries = Object.values(drafts);
  return (
    <Dialog open={open} onClose={close} title={entries.length || saving !== "saved" ? "Not saved yet" : "A note"}>
      {WHY[saving] && <p className="mt-2">{WHY[saving]}</p>}
      {trouble && <p className="mt-2 whitespace-pre-line text-stop">{trouble}</p>}
      {left && <p className="mt-2">{leftAlone(left)}</p>}
      <ul className="mt-3">
        {entries.map((draft) => (
          <li key={draft.key} className="flex min-h-11 items-center gap-3 border-t border-rule-2 py-1.5">
            <span className="flex-1">
              {place(draft.key)}: <b className="font-medium">{inWords(draft, unit)}</b>
              {draft.refused && <span className="block text-[14px] text-stop">{draft.refused}</span>}
            </span>
            <button type="button" className="link" onClick={() => forget(draft.key)}>
              Discard
            </button>
          </li>
        ))}
      </ul>
      {entries.length > 0 && (
        <button type="button" className="button first mt-3" onClick={() => void resend()}>
          Send now
        </button>
      )}
    </Dialog>
  );
}
