/** A tool's page: what it is, its own dimensions, what its length has been. */
import { useState } from "react";
import type { Kind, Tool } from "../../api/client";
import { shown, unitOf } from "../../quantity/format";
import { QuantityInput } from "../../quantity/quantity-input";
import { ChoiceRow, QuantityRow, TextRow, useUnit } from "../../quantity/rows";
import { useReadings, when } from "../../readings/readings";
import { may } from "../../shell/session";
import { useWork } from "../../work/store";
import { useVocabulary } from "../../work/vocabulary";
import { useChosen } from "./chosen";

const ROWS: [keyof Tool & string, string, Kind, string][] = [
  ["flutes", "Flutes", "count", "How many edges cut."],
  ["cutting_length", "Cutting length", "length", "How far up from the tip the edges go."],
  ["corner_radius", "Corner radius", "length", "Of a corner-radius end mill; half the diameter of a ball."],
  ["angle_deg", "Angle", "angle", "The included point angle of a drill; that per side of a chamfer mill."],
  ["greatest_speed", "Greatest speed", "speed", "What the tool stands, whatever the spindle can do."],
  ["breakage", "Breakage tolerance", "length", "A length further off its record than this is taken for a broken tool."],
  [
    "collar_scatter",
    "Scatter with its collar",
    "length",
    "A stop collar keeps the length within this; without one it is void once a nut was put down.",
  ],
];

export function ToolPage() {
  const chosen = useChosen((state) => state.chosen);
  const tool = useWork((work) => work.document?.tools[chosen]);
  const types = useVocabulary((words) => words.tool_types);
  if (!tool) return <p className="p-4 text-ink-2">Choose a tool in the table; its page stands here.</p>;
  const base = `/tools/${chosen}`;
  return (
    <section aria-label={`Page of T${tool.number}`} className="pb-6" key={tool.number}>
      <div className="group-title">
        T{tool.number} <small>{tool.name}</small>
      </div>
      <ChoiceRow label="Type" pointer={`${base}/type`} choices={types.map((type) => [type, type])} />
      {ROWS.map(([field, label, kind, hint]) =>
        tool[field] == null ? (
          <Missing key={field} label={label} pointer={`${base}/${field}`} kind={kind} />
        ) : (
          <QuantityRow key={field} label={label} pointer={`${base}/${field}`} kind={kind} hint={hint} />
        ),
      )}
      <TextRow label="Notes" pointer={`${base}/notes`} narrow />
      <History index={chosen} />
    </section>
  );
}

/** A dimension that is not given yet: a click begins it. */
function Missing({ label, pointer, kind }: { label: string; pointer: string; kind: Kind }) {
  const unit = useUnit();
  const [typing, setTyping] = useState(false);
  const [says, setSays] = useState("");
  const { edit } = useWork.getState();
  return (
    <>
      <div className="row">
        <span className="text-ink-2">{label}</span>
        {typing ? (
          <QuantityInput
            autoFocus
            label={label}
            value={0}
            kind={kind}
            unit={unit}
            onCommit={(value) => edit(pointer, value)}
            onSays={(told) => setSays(told?.wrong ? told.text : "")}
            onDone={() => setTyping(false)}
          />
        ) : (
          <button
            type="button"
            className="min-h-7 text-right text-ink-3"
            aria-label={`${label}, not given`}
            disabled={!may("technician")}
            onClick={() => setTyping(true)}
          >
            –
          </button>
        )}
        <span className="unit">{unitOf(kind, unit)}</span>
      </div>
      {says && <p className="says wrong">{says}</p>}
    </>
  );
}

/** What the length was, the newest first. */
function History({ index }: { index: number }) {
  const unit = useUnit();
  const list = useReadings((readings) => readings.list);
  const mine = list.filter((reading) => reading.pointer === `/tools/${index}/length` && reading.source !== "read-back");
  return (
    <>
      <div className="group-title">
        Lengths <small>{mine.length || "no reading yet"}</small>
      </div>
      <ol className="px-4 text-[14.5px]" aria-label="Lengths of the tool">
        {mine.slice(0, 12).map((reading) => (
          <li key={reading.id} className="flex justify-between border-t border-rule-2 py-1">
            <span className="text-ink-2">
              {when(reading.taken)} {reading.author}
            </span>
            <span>{shown(reading.value, "length", unit)}</span>
          </li>
        ))}
      </ol>
    </>
  );
}
