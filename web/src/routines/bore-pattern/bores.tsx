/** The bores of a pattern: where each is expected, from the place. */
import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Routine } from "../../api/client";
import { described, QuantityRow } from "../../fields/rows";
import { may } from "../../session/session";
import { addToSetup, edit } from "../../work/editing";

type Pattern = Extract<Routine, { kind: "bore pattern" }>;
type Bore = Pattern["bores"][number];

export function Bores({ index, routine }: { index: number; routine: Routine }) {
  const { bores, diameter } = routine as Pattern;
  const [trouble, setTrouble] = useState("");
  const pointer = `/routines/${index}/bores`;
  const change = async (make: (before: Bore[]) => Bore[]) => setTrouble(described(await edit(pointer, make)));
  const add = async () => {
    const entry = { x: bores.at(-1)?.x ?? 0, y: Math.max(...bores.map((bore) => bore.y)) + 2 * diameter }; // clear of all
    setTrouble(described((await addToSetup({ what: "entry", body: { where: pointer, entry } })).faults));
  };
  return (
    <>
      <div className="group-title">
        Bores, from the place <small>{bores.length}</small>
      </div>
      {bores.map((_, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a bore is known by its number
        <div key={at} className="grid grid-cols-[1fr_auto]">
          <div>
            <QuantityRow label={`Bore ${at + 1}, X`} pointer={`${pointer}/${at}/x`} kind="length" />
            <QuantityRow label={`Bore ${at + 1}, Y`} pointer={`${pointer}/${at}/y`} kind="length" />
          </div>
          {may("technician") && (
            <button
              type="button"
              className="button plain border-0! px-1!"
              aria-label={`Remove bore ${at + 1}`}
              onClick={() => void change((before) => before.filter((_, other) => other !== at))}
            >
              <Trash2 size={15} />
            </button>
          )}
        </div>
      ))}
      {may("technician") && bores.length < 6 && (
        <p className="px-4 py-1">
          <button type="button" className="button plain min-h-9! px-2!" onClick={() => void add()}>
            <Plus size={15} /> Bore
          </button>
        </p>
      )}
      {trouble && <p className="says wrong">{trouble}</p>}
    </>
  );
}
