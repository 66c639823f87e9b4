/** A quantity that may be left out: how far something may be off, or what is not known yet. */
import { X } from "lucide-react";
import type { Kind } from "../api/client";
import { may } from "../session/session";
import { useSetup } from "../work/document";
import { edit } from "../work/editing";
import { read } from "../work/pointer";
import { QuantityRow } from "./rows";

interface Props {
  label: string;
  pointer: string;
  kind: Kind;
  /** what it begins with */
  usual: number;
  /** what is said where there is none */
  none?: string;
}

export function LimitRow({ label, pointer, kind, usual, none = "no limit" }: Props) {
  const value = useSetup((setup) => read(setup, pointer)) as number | null;
  if (value === null || value === undefined)
    return (
      <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
        <span>{label}</span>
        <button
          type="button"
          className="link text-right"
          disabled={!may("technician")}
          aria-label={`${label}: ${none}, set it`}
          onClick={() => void edit(pointer, usual)}
        >
          {none}
        </button>
      </div>
    );
  return (
    <div className="grid grid-cols-[1fr_auto] items-start">
      <div>
        <QuantityRow label={label} pointer={pointer} kind={kind} />
      </div>
      {may("technician") && (
        <button
          type="button"
          className="button plain border-0! px-1!"
          aria-label={`${label}: ${none}`}
          onClick={() => void edit(pointer, null)}
        >
          <X size={15} />
        </button>
      )}
    </div>
  );
}
