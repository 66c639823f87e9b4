/** A table of tools from a file, or pasted from a spreadsheet: what it would change is shown row by row; good rows are taken
 * over, bad ones stay in the box to be mended. */
import { useRef, useState } from "react";
import { csrf, refusal, type ToolTable } from "../../api/client";
import { told } from "../../quantity/rows";
import { Dialog } from "../../shell/dialog";
import { useWork } from "../../work/store";

/** Ask what a table would change. */
async function look(body: BodyInit): Promise<ToolTable | string> {
  const { slug, flush } = useWork.getState();
  await flush();
  const answer = await fetch(`/api/machines/${slug}/tools/preview`, {
    method: "POST",
    headers: { "Content-Type": "application/octet-stream", ...csrf() },
    body,
  }).catch(() => null);
  const data: unknown = await answer?.json().catch(() => null);
  if (!answer) return "No connection to the server.";
  return answer.ok ? (data as ToolTable) : refusal(data);
}

const asText = (table: ToolTable) =>
  [table.head, ...table.rows.filter((row) => row.wrong).map((row) => row.cells)]
    .map((row) => row.join("\t"))
    .join("\n");

const left = (bad: number) =>
  `Imported. ${bad} row${bad > 1 ? "s are" : " is"} left in the box: correct ${bad > 1 ? "them" : "it"}, and look again.`;

export function BringInTools({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const [table, setTable] = useState<ToolTable | null>(null);
  const [says, setSays] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const show = async (body: BodyInit) => {
    const found = await look(body);
    setTable(typeof found === "string" ? null : found);
    setSays(typeof found === "string" ? found : "");
  };
  const take = async () => {
    if (!table) return;
    const trouble = told(await useWork.getState().edit("/tools", table.tools));
    if (trouble) return setSays(trouble);
    const bad = table.rows.filter((row) => row.wrong).length;
    if (!bad) return onClose();
    setText(asText(table));
    setTable(null);
    setSays(left(bad));
  };
  return (
    <Dialog open onClose={onClose} title="Import a tool table" wide>
      <p className="py-2 text-[14.5px] text-ink-2">
        Paste rows from a spreadsheet, their columns named in the first one (number, name, type, diameter, length,
        stick_out, pocket …), or choose a CSV or XLSX file. A tool that is known is changed in the columns that there
        are.
      </p>
      <textarea
        className="h-36 w-full border border-rule bg-sheet p-2 font-mono text-[13px]"
        aria-label="Rows of the table"
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      <div className="flex flex-wrap items-center gap-2 py-2">
        <button type="button" className="button" disabled={!text.trim()} onClick={() => void show(text)}>
          Show the changes
        </button>
        <button type="button" className="button plain" onClick={() => file.current?.click()}>
          Choose a file
        </button>
        <input
          ref={file}
          type="file"
          className="hidden"
          aria-label="Tool table file"
          accept=".csv,.xlsx,.tsv,.txt"
          onChange={(event) => {
            const picked = event.currentTarget.files?.[0];
            event.currentTarget.value = "";
            if (picked) void show(picked);
          }}
        />
        {says && <span role="status">{says}</span>}
      </div>
      {table && <Found table={table} onTake={() => void take()} />}
    </Dialog>
  );
}

function Found({ table, onTake }: { table: ToolTable; onTake: () => void }) {
  const bad = table.rows.filter((row) => row.wrong);
  const good = table.rows.filter((row) => row.changes);
  const told = [...bad, ...good];
  return (
    <>
      <p data-found>
        {good.length} of {table.rows.length} rows change something
        {bad.length > 0 && (
          <b className="font-semibold text-stop">
            , {bad.length} {bad.length === 1 ? "is" : "are"} wrong
          </b>
        )}
        .
      </p>
      <ul className="max-h-[34vh] overflow-auto py-1">
        {told.map((row) => (
          <li
            key={row.row}
            className={`border-t border-rule-2 py-1 text-[14.5px] ${row.wrong ? "text-stop" : ""}`}
            data-row={row.row}
          >
            <span className="inline-block w-16 text-ink-3">row {row.row}</span>
            {row.wrong || row.changes}
          </li>
        ))}
      </ul>
      <div className="flex justify-end pt-2">
        <button type="button" className="button first" disabled={!good.length} onClick={onTake}>
          {bad.length ? `Import the ${good.length} good rows` : "Import"}
        </button>
      </div>
    </>
  );
}
