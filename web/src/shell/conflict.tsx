/** What to do when two people changed one value, when a save was refused, or when the session has ended. */
import { useRef } from "react";
import { Dialog } from "../common/dialog";
import { useUnit } from "../fields/rows";
import { useSession } from "../session/session";
import { place, said } from "../work/naming";
import { resend, useWork } from "../work/store";
import type { Work } from "../work/work";
import { SignIn } from "./sign-in";

export function Troubles() {
  const conflict = useWork((work) => work.conflict);
  const saving = useWork((work) => work.saving);
  const { settle } = useWork.getState();
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
    const { slug, flush, open } = useWork.getState();
    if (useSession.getState().session?.user !== whose) {
      location.reload(); // somebody else: what is kept stays the first one's, and isn't sent as theirs
      return;
    }
    useWork.setState({ saving: "saved" });
    if (useWork.getState().machine) void flush().then(() => resend());
    else if (slug) {
      useWork.setState({ slug: null });
      void open(slug);
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

function Both({ conflict }: { conflict: NonNullable<Work["conflict"]> }) {
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
