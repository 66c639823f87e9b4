/** A tool's page: what it is, drawn with its own dimensions, its length and what that has been, its holder, what it cuts with. */
import { useState } from "react";
import { client, type Kind, type Tool } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { Drift } from "../../drawing/drift";
import { QuantityInput } from "../../fields/quantity-input";
import { ChoiceRow, QuantityRow, TextRow, useUnit, YesNoRow } from "../../fields/rows";
import { shown, unitOf } from "../../quantity/format";
import { when } from "../../quantity/when";
import { useReadings } from "../../readings/readings";
import { may } from "../../session/session";
import { useSetup } from "../../work/document";
import { edit } from "../../work/editing";
import { known } from "../../work/known";
import { useVocabulary } from "../../work/vocabulary";
import { useChosen } from "./chosen";
import { CuttingRows } from "./cutting";
import { HolderRows } from "./holder";
import { LengthRows } from "./length-rows";
import { PageDrawing } from "./page-drawing";

const ROWS: [keyof Tool & string, Kind][] = [
  ["flutes", "count"],
  ["cutting_length", "length"],
  ["corner_radius", "length"],
  ["angle_deg", "angle"],
  ["greatest_speed", "speed"],
  ["greatest_wear", "length"],
  ["breakage", "length"],
  ["collar_scatter", "length"],
  ["fetched_a_shift", "count"],
];

/** How a large cutter is touched. */
const TOUCH: [keyof Tool & string, Kind][] = [
  ["off_axis", "length"],
  ["edge_height", "length"],
];

/** What follows for the tool, with its measured lengths. */
function usePage(tool: Tool | undefined, index: number) {
  const document = useSetup();
  const list = useReadings();
  const lengths = list
    .filter((reading) => reading.pointer === `/tools/${index}/length` && reading.source !== "read-back")
    .slice(0, 200)
    .map((reading) => reading.value);
  const { data } = useAnswer(
    tool ? ["tool", document?.machine.name, tool.number, nameOf(document), lengths.join()] : null,
    () => client.POST("/api/tools/page", { body: { document: document ?? {}, tool: tool?.number ?? 0, lengths } }),
    { keep: 3 },
  );
  return data;
}

export function ToolPage() {
  const chosen = useChosen((state) => state.chosen);
  const tool = useSetup((setup) => setup?.tools[chosen]);
  const types = useVocabulary((words) => words.tool_types);
  const page = usePage(tool, chosen);
  if (!tool) return <p className="p-4 text-ink-2">Choose a tool in the table; its page stands here.</p>;
  const base = `/tools/${chosen}`;
  return (
    <section aria-label={`Page of T${tool.number}`} className="pb-6" key={tool.number}>
      <div className="group-title">
        T{tool.number} <small>{tool.name}</small>
      </div>
      <PageDrawing tool={tool} index={chosen} />
      <ChoiceRow label="Type" pointer={`${base}/type`} choices={types.map((type) => [type, type])} />
      <Rows rows={ROWS} tool={tool} base={base} />
      <LengthRows tool={tool} index={chosen} page={page} />
      <History index={chosen} />
      <CuttingRows index={chosen} found={page?.cutting} />
      <HolderRows index={chosen} />
      <div className="group-title">At the setter</div>
      <Rows rows={TOUCH} tool={tool} base={base} />
      <YesNoRow label="Turns slowly backwards" pointer={`${base}/turns_backwards`} />
      <TextRow label="Notes" pointer={`${base}/notes`} narrow />
    </section>
  );
}

function Rows({ rows, tool, base }: { rows: typeof ROWS; tool: Tool; base: string }) {
  return rows.map(([field, kind]) =>
    tool[field] == null ? (
      <Missing key={field} pointer={`${base}/${field}`} kind={kind} />
    ) : (
      <QuantityRow key={field} pointer={`${base}/${field}`} kind={kind} />
    ),
  );
}

/** A dimension that is not given yet: a click begins it. */
function Missing({ pointer, kind }: { pointer: string; kind: Kind }) {
  const label = known(pointer)?.name ?? "";
  const unit = useUnit();
  const [typing, setTyping] = useState(false);
  const [says, setSays] = useState("");
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
            onSays={(reported) => setSays(reported?.wrong ? reported.text : "")}
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
  const list = useReadings();
  const mine = list.filter((reading) => reading.pointer === `/tools/${index}/length` && reading.source !== "read-back");
  return (
    <>
      <div className="group-title">
        What it was <small>{mine.length || "no reading yet"}</small>
      </div>
      <ol className="px-4 text-[14.5px]" aria-label="Lengths of the tool">
        {mine.slice(0, 12).map((reading) => (
          <li key={reading.id} className="flex justify-between border-t border-rule-2 py-1">
            <span className="text-ink-2" title={reading.says}>
              {when(reading.measured_at ?? reading.taken)} {reading.author}
              {reading.says && <span className="block text-[13px] text-ink-3">{reading.says}</span>}
            </span>
            <span>
              {shown(reading.value, "length", unit)}
              {reading.half_width_95 !== null && ` ± ${shown(reading.half_width_95, "length", unit)}`}
              {reading.replaced.length > 0 && (
                <span className="block text-[13px] text-warn">with another {reading.replaced.join(", ")}</span>
              )}
            </span>
          </li>
        ))}
      </ol>
      {(["length", "wear"] as const).map((field) => (
        <OverTime key={field} quantity={`/tools/${index}/${field}`} title={field === "wear" ? "Wear" : "Length"} />
      ))}
    </>
  );
}

/** A chart where there is something to compare. */
function OverTime({ quantity, title }: { quantity: string; title: string }) {
  const of = useReadings().filter((reading) => reading.pointer === quantity && reading.source !== "read-back");
  if (of.length < 2) return null;
  return (
    <div className="px-4">
      <Drift quantity={quantity} title={title} />
    </div>
  );
}
