/** The cylinders of a tool's holder, from the gauge line down. */
import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Tool } from "../../api/client";
import { QuantityInput } from "../../fields/quantity-input";
import { described, useUnit } from "../../fields/rows";
import { unitOf } from "../../quantity/format";
import { may } from "../../session/session";
import { useSetup } from "../../work/document";
import { addToSetup, edit } from "../../work/editing";
import { setFocus } from "../../work/selection";

type Part = NonNullable<Tool["holder"]>[number];

const NONE: Part[] = [];

export function HolderRows({ index }: { index: number }) {
  const parts = useSetup((setup) => setup?.tools[index]?.holder) ?? NONE;
  const [trouble, setTrouble] = useState("");
  const pointer = `/tools/${index}/holder`;
  const change = async (next: (before: Part[]) => Part[]) => setTrouble(described(await edit(pointer, next)));
  const add = async () => {
    const entry = parts.at(-1) ?? { diameter: 40, length: 30 };
    setTrouble(described((await addToSetup({ what: "entry", body: { where: pointer, entry } })).faults));
  };
  return (
    <>
      <div className="group-title">
        Holder{" "}
        <small>{parts.length ? "cylinders from the gauge line down" : "one cylinder, as the changer has it"}</small>
      </div>
      {parts.map((part, at) => (
        <Cylinder
          // biome-ignore lint/suspicious/noArrayIndexKey: a cylinder is known by its place in the stack
          key={at}
          part={part}
          at={at}
          pointer={`${pointer}/${at}`}
          onRemove={() => void change((before) => before.filter((_, place) => place !== at))}
          onTrouble={setTrouble}
        />
      ))}
      {trouble && <p className="says wrong">{trouble}</p>}
      {may("technician") && (
        <p className="px-4 py-1">
          <button type="button" className="button plain min-h-9!" onClick={() => void add()}>
            <Plus size={14} /> Cylinder
          </button>
        </p>
      )}
    </>
  );
}

interface CylinderProps {
  part: Part;
  at: number;
  pointer: string;
  onRemove: () => void;
  onTrouble: (text: string) => void;
}

function Cylinder({ part, at, pointer, onRemove, onTrouble }: CylinderProps) {
  const unit = useUnit();
  return (
    <div className="flex items-center gap-1.5 px-4 py-0.5 text-[14px]">
      <span className="text-ink-3">{at + 1}</span>
      {(["diameter", "length"] as const).map((field) => (
        <span key={field} className="flex flex-1 items-center gap-1 text-ink-2">
          {field === "diameter" ? "Ø" : "long"}
          <QuantityInput
            label={`Cylinder ${at + 1} ${field}`}
            value={part[field]}
            kind="length"
            unit={unit}
            pointer={`${pointer}/${field}`}
            readOnly={!may("technician")}
            onFocus={() => setFocus(`${pointer}/${field}`)}
            onCommit={(value) => edit(`${pointer}/${field}`, value)}
            onSays={(says) => onTrouble(says?.wrong ? says.text : "")}
          />
        </span>
      ))}
      <span className="text-ink-3">{unitOf("length", unit)}</span>
      {may("technician") && (
        <button
          type="button"
          className="button plain border-0! px-1!"
          aria-label={`Remove cylinder ${at + 1}`}
          onClick={onRemove}
        >
          <Trash2 size={14} />
        </button>
      )}
    </div>
  );
}
