/** What a tool cuts with, both ways round: one of each pair is entered, the other one follows. */
import { useState } from "react";
import type { Kind, Tool, ToolPageAnswer } from "../../api/client";
import { QuantityInput } from "../../fields/quantity-input";
import { useUnit } from "../../fields/rows";
import { unitOf } from "../../quantity/format";
import { may } from "../../session/session";
import { useSetup } from "../../work/document";
import { edit } from "../../work/editing";

type Cutting = NonNullable<Tool["cutting"]>;
type Field = keyof Cutting;

const ROWS: [Field, Field, string, Kind][] = [
  ["speed", "surface_speed", "Speed", "speed"],
  ["surface_speed", "speed", "Surface speed", "surface speed"],
  ["feed", "chip_load", "Feed", "feed"],
  ["chip_load", "feed", "Chip load, a tooth", "length"],
];

export function CuttingRows({ index, found }: { index: number; found: ToolPageAnswer["cutting"] | undefined }) {
  const entered = useSetup((setup) => setup?.tools[index]?.cutting);
  return (
    <>
      <div className="group-title">
        Cutting data <small>type one of each pair</small>
      </div>
      {ROWS.map(([field, other, label, kind]) => (
        <Row
          key={field}
          label={label}
          kind={kind}
          value={entered?.[field] ?? found?.[field] ?? null}
          follows={entered?.[field] == null && found?.[field] != null}
          onTake={(value) =>
            edit(`/tools/${index}/cutting`, (before: Cutting) => ({
              ...before,
              [field]: value,
              [other]: null,
            }))
          }
        />
      ))}
      {found?.says.map((said) => (
        <p key={said} className="says wrong">
          {said}
        </p>
      ))}
    </>
  );
}

interface RowProps {
  label: string;
  kind: Kind;
  value: number | null;
  follows: boolean;
  onTake: (value: number) => ReturnType<typeof edit>;
}

function Row({ label, kind, value, follows, onTake }: RowProps) {
  const unit = useUnit();
  const [says, setSays] = useState("");
  return (
    <>
      <div className="row" data-follows={follows}>
        <span>
          {label} {follows && <small className="text-[13px] text-ink-3">follows</small>}
        </span>
        <QuantityInput
          label={follows ? `${label}, follows` : label}
          value={value ?? 0}
          blank={value === null}
          rounded={follows}
          kind={kind}
          unit={unit}
          readOnly={!may("technician")}
          className={follows ? "text-ink-2! italic" : ""}
          onCommit={onTake}
          onSays={(reported) => setSays(reported?.wrong ? reported.text : "")}
        />
        <span className="unit">{unitOf(kind, unit)}</span>
      </div>
      {says && <p className="says wrong">{says}</p>}
    </>
  );
}
