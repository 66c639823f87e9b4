/** Choosing how tools are exchanged: a changer where there is none, and another style in place of the one there is. */
import { useState } from "react";
import type { Style } from "../../api/client";
import { STYLES } from "../../changers";
import { may } from "../../session/session";
import { useSetup } from "../../work/document";
import { addToSetup, edit } from "../../work/editing";

/** Another style in place of this one asks first: the numbers of this one are left behind, and undo brings them back. While tools are
 * stored in it, it is a supervisor's. */
export function StyleNote() {
  const style = useSetup((setup) => setup?.changer?.style);
  const [asked, setAsked] = useState(false);
  const stored = useSetup((setup) => setup?.tools.some((tool) => tool.pocket !== null) ?? false);
  if (!may(stored ? "supervisor" : "technician") || !style) return null;
  return (
    <div className="px-4 pt-5">
      {asked ? (
        <>
          <p className="text-[14px] text-ink-2">The numbers of the {STYLES[style].name} go; undo brings them back.</p>
          <button type="button" className="button mt-2" onClick={() => void edit("/changer", null)}>
            Take the changer out
          </button>
        </>
      ) : (
        <button type="button" className="link" onClick={() => setAsked(true)}>
          Another style of changer
        </button>
      )}
    </div>
  );
}

export function AddChanger() {
  const [trouble, setTrouble] = useState<string | null>(null);
  const add = async (style: Style) => {
    const { faults } = await addToSetup({ what: "changer", body: { kind: style } });
    setTrouble(faults.map((fault) => fault.what).join(" ") || null);
  };
  return (
    <div className="p-5">
      <h2 className="font-semibold">No changer yet</h2>
      <p className="mt-1 text-ink-2">
        Choose how tools are exchanged; it starts with usual numbers, which you then replace by measured ones.
      </p>
      {may("technician") && (
        <ul className="mt-3 grid gap-2">
          {(Object.keys(STYLES) as Style[]).map((style) => (
            <li key={style}>
              <button type="button" className="button w-full text-left!" onClick={() => void add(style)}>
                <span className="block font-semibold">Add {article(STYLES[style].name)}</span>
                <span className="block text-[13.5px] text-ink-2">{STYLES[style].says}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {trouble && <p className="says wrong">{trouble}</p>}
    </div>
  );
}

function article(name: string): string {
  return /pockets|tools/.test(name) ? name : `a ${name}`;
}
