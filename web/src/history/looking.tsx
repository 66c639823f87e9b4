/** An earlier revision that is looked at: every stage shows it as it was; what it is, and the way back, stand above. */
import { useEffect, useRef, useState } from "react";
import { useLocation } from "react-router";
import { when } from "../quantity/when";
import { note, tellGone } from "../session/address";
import { is } from "../session/session";
import { useDocument } from "../work/document";
import { lookBack } from "../work/opening";
import { restore } from "./restore";

/** The revision that the address asks for; null: the newest. */
function asked(): number | null {
  const text = new URLSearchParams(window.location.search).get("revision");
  return text === null ? null : Number(text);
}

async function follow() {
  const number = asked();
  if (number === (useDocument.getState().looking?.number ?? null)) return;
  if (await lookBack(number)) return;
  tellGone(`There is no revision ${number} of this machine.`);
  note({ revision: null }, "same");
}

export function Looking() {
  const looking = useDocument((work) => work.looking);
  const ready = useDocument((work) => work.machine !== null && work.document !== null);
  const { pathname } = useLocation();
  const arrived = useRef(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    if (!ready) return;
    arrived.current = asked() === null;
    void follow().then(() => {
      arrived.current = true;
    });
    const back = () => void follow();
    window.addEventListener("popstate", back);
    return () => window.removeEventListener("popstate", back);
  }, [ready]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another stage's address begins without it
  useEffect(() => {
    if (ready && arrived.current) note({ revision: looking ? String(looking.number) : null }, "same");
  }, [ready, looking, pathname]);
  if (!looking) return null;
  return (
    <div role="status" className="flex items-center gap-4 border-b border-rule bg-warn-wash px-4 py-1 text-[14.5px]">
      <span className="flex-1">
        Revision {looking.number} as {looking.author} left it on {when(looking.changed)}. Marks, proofs and readings are
        the newest revision’s. {trouble && <b className="text-stop">{trouble}</b>}
      </span>
      {is("technician") && (
        <button type="button" className="link min-h-10" onClick={async () => setTrouble(await restore(looking.number))}>
          Restore it
        </button>
      )}
      <button type="button" className="button min-h-10!" onClick={() => void lookBack(null)}>
        Back to the newest
      </button>
    </div>
  );
}
