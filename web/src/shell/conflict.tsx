/** What to do when two people changed one value, when a save was refused, or when the session has ended. */

import { useRef } from "react";
import type { EditConflict } from "../api/client";
import { Dialog } from "../common/dialog";
import { useUnit } from "../fields/rows";
import { useSession } from "../session/session";
import { slugNow, useDocument, useSaving } from "../work/document";
import { place, said } from "../work/naming";
import { openMachine } from "../work/opening";
import { resend } from "../work/resending";
import { flush, settle } from "../work/saving";

import { SignIn } from "./sign-in";

export function Troubles() {
  const conflict = useDocument((work) => work.conflict);
  const saving = useSaving();
  const user = useSession((signed) => signed.session?.user ?? null);
  const whose = useRef(user);
  if (saving !== "signed-out") whose.current = user;
  if (saving === "signed-out") return <Ended whose={whose.current} />;
  if (!conflict) return null;
  return (
    <Dialog open title="Changed by someone else">
      <p className="mt-2">
        {conflict.message} Both values are shown; choose which one to keep. Everything else that you changed is kept.
      </p>
      <Both conflict={conflict} />
      <div className="mt-5 flex justify-end gap-3">
        <button type="button" className="button plain" onClick={() => void settle(false)}>
          Take {conflict.author}'s
        </button>
        <button type="button" className="button first" onClick={() => void settle(true)}>
          Keep mine
        </button>
      </div>
    </Dialog>
  );
}

/** The session has ended: whoever signs in again as the same person goes on with what was entered. */
function Ended({ whose }: { whose: string | null }) {
  const entered = () => {
    const slug = slugNow();
    if (useSession.getState().session?.user !== whose) {
      location.reload(); // somebody else: what is kept stays the first one's, and isn't sent as theirs
      return;
    }
    useDocument.setState({ saving: "saved" });
    if (useDocument.getState().machine) void flush().then(() => resend());
    else if (slug) {
      useDocument.setState({ slug: null });
      void openMachine(slug);
    }
  };
  return (
    <Dialog open title="Your session has ended">
      <p className="mt-2" role="alert">
        What you entered is kept here; sign in again as {whose} and it is saved.
      </p>
      <SignIn within onEntered={entered} />
    </Dialog>
  );
}

function Both({ conflict }: { conflict: EditConflict }) {
  const unit = useUnit();
  return (
    <table className="mt-4 w-full">
      <thead>
        <tr className="border-b border-rule text-left text-ink-2">
          <th className="py-1 font-normal">value</th>
          <th className="font-normal">was</th>
          <th className="font-normal">yours</th>
          <th className="font-normal">{conflict.author}'s</th>
        </tr>
      </thead>
      <tbody>
        {conflict.conflicts.map((entry) => (
          <tr key={entry.where} className="border-b border-rule-2">
            <td className="py-1.5">{place(entry.where)}</td>
            <td>{said(entry.base, entry.unit, unit)}</td>
            <td className="font-semibold">{said(entry.mine, entry.unit, unit)}</td>
            <td className="font-semibold">{said(entry.theirs, entry.unit, unit)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
