/** The second entry of a value that was read off something: it is taken where both are the same. */
import { useState } from "react";
import type { Kind } from "../api/client";
import { shown, unitOf } from "../quantity/format";
import { useSetup } from "../work/document";
import { edit } from "../work/editing";
import { useAgain } from "./again";
import { QuantityInput } from "./quantity-input";

/** It opens where it is seen, also at the end of a long schedule. */
const inSight = (row: HTMLElement | null) => row?.scrollIntoView?.({ block: "center" });

export function SecondEntry({ label, pointer, kind }: { label: string; pointer: string; kind: Kind }) {
  const unit = useSetup((setup) => setup?.machine.unit ?? "mm");
  const { first, end } = useAgain();
  const [says, setSays] = useState<{ text: string; wrong: boolean } | null>(null);
  const compare = async (second: number) => {
    if (Math.abs(second - first) > 1e-9) {
      const both = `${shown(first, kind, unit, true)} and ${shown(second, kind, unit, true)}`;
      return [{ where: "", what: `The two differ: ${both}. Look again, and type it.` }];
    }
    const faults = await edit(pointer, first);
    if (!faults.length) end();
    return faults;
  };
  return (
    <>
      <div className="row bg-now-wash" ref={inSight}>
        <span>{label} again, as you read it</span>
        <QuantityInput
          autoFocus
          blank
          label={`${label}, second entry`}
          value={first}
          kind={kind}
          unit={unit}
          onCommit={compare}
          onSays={setSays}
          onForget={end}
        />
        <span className="unit">{unitOf(kind, unit)}</span>
      </div>
      <p className={`says ${says?.wrong ? "wrong" : "understood"}`} role={says?.wrong ? "alert" : undefined}>
        {says?.text ?? "Every length depends on it, so it is typed twice. Escape leaves it as it was."}
      </p>
    </>
  );
}
