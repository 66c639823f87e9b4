/** The lengths of all tools in the three bases, side by side. */
import { useState } from "react";
import { client } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { useUnit } from "../../fields/rows";
import { shown, unitOf } from "../../quantity/format";
import { useSetup } from "../../work/document";
import { Pick } from "./pick";

const NONE: never[] = [];

export function BasesView() {
  const document = useSetup();
  const tools = document?.tools ?? NONE;
  const offsets = document?.work_offsets ?? NONE;
  const unit = useUnit();
  const [wanted, setMaster] = useState<number | null>(null);
  const [offset, setOffset] = useState(offsets[0]?.number ?? 1);
  const usual = tools.find((tool) => tool.type === "reference tool") ?? tools[0];
  const master = tools.find((tool) => tool.number === wanted)?.number ?? usual?.number ?? 0;
  const { data, trouble } = useAnswer(tools.length ? ["bases", nameOf(document), master, offset] : null, () =>
    client.POST("/api/tools/bases", { body: { document: document ?? {}, master, work_offset: offset } }),
  );
  const mm = (value: number | null | undefined) => (value == null ? "" : shown(value, "length", unit));
  if (!tools.length) return <p className="bg-sheet p-6 text-ink-2">No tools yet; add one in the other view.</p>;
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4">
      <div className="flex flex-wrap items-center gap-4 text-[14.5px]">
        <Pick
          label="master tool"
          value={master}
          onPick={setMaster}
          choices={tools.map((tool) => [tool.number, `T${tool.number} ${tool.name}`])}
        />
        <Pick
          label="part zero"
          value={offset}
          onPick={setOffset}
          choices={offsets.map((entry) => [entry.number, `work offset ${entry.number}`])}
        />
      </div>
      {trouble && <p className="text-stop">{trouble}</p>}
      <table className="mt-3" aria-label="Lengths by basis">
        <thead>
          <tr className="text-right text-[13px] text-ink-3">
            <th className="text-left font-normal">tool</th>
            <th className="px-5 font-normal">gauge line to tip, {unitOf("length", unit)}</th>
            <th className="px-5 font-normal">against the master tool</th>
            <th className="px-5 font-normal">from home to the part</th>
          </tr>
        </thead>
        <tbody>
          {data?.map((row) => (
            <tr key={row.tool} className="border-t border-rule-2 text-right" data-basis={row.tool}>
              <td className="py-1 text-left">
                T{row.tool} <span className="text-ink-2">{tools.find((tool) => tool.number === row.tool)?.name}</span>
              </td>
              <td className="px-5">{mm(row.gauge_line)}</td>
              <td className="px-5">{mm(row.master_tool)}</td>
              <td className="px-5">{mm(row.home_to_part)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-[14px] text-ink-2">
        Values from home to the part are void for every tool as soon as the part, or its zero, is another one.
      </p>
    </div>
  );
}
