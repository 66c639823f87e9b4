/** A table of tools from a file, or pasted from a spreadsheet: what it would change is shown row by row; good rows are taken
 * over, bad ones stay in the box to be fixed. */
import { useRef, useState } from "react";
import { csrf, refusal, type ToolTable } from "../../api/client";
import { Dialog } from "../../common/dialog";
import { described } from "../../fields/rows";
import { slugNow } from "../../work/document";
import { edit } from "../../work/editing";
import { flush } from "../../work/saving";

/** What was chosen by hand: the field of each column, and what new tools get where the table has it not. */
interface Chosen {
  columns: string[] | null;
  missing: Record<string, string>;
}

const NOTHING: Chosen = { columns: null, missing: {} };

/** Ask what a table would change. */
async function look(body: BodyInit, { columns, missing }: Chosen): Promise<ToolTable | string> {
  const slug = slugNow();
  await flush();
  const asked = new URLSearchParams();
  if (columns) asked.set("columns", columns.join(","));
  const pairs = Object.entries(missing).filter(([, text]) => text.trim());
  if (pairs.length) asked.set("missing", pairs.map(([field, text]) => `${field}=${text}`).join(";"));
  const answer = await fetch(`/api/machines/${slug}/tools/preview?${asked}`, {
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

export function ImportTools({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const [table, setTable] = useState<ToolTable | null>(null);
  const [says, setSays] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const [source, setSource] = useState<BodyInit>("");
  const [chosen, setChosen] = useState(NOTHING);
  const show = async (body: BodyInit, next: Chosen = NOTHING) => {
    setSource(body);
    setChosen(next);
    const found = await look(body, next);
    setTable(typeof found === "string" ? null : found);
    setSays(typeof found === "string" ? found : "");
  };
  const take = async () => {
    if (!table) return;
    const trouble = described(await edit("/tools", table.tools));
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
        Paste rows from a spreadsheet, their columns named in the first one as on the screen (T, Name, Type, Diameter,
        Length, Stick-out, Pocket …), or choose a CSV or XLSX file. A tool that is known is changed in the columns that
        there are.
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
      {table && <Columns table={table} chosen={chosen} onChosen={(next) => void show(source, next)} />}
      {table && <Found table={table} onTake={() => void take()} />}
    </Dialog>
  );
}

interface ColumnsProps {
  table: ToolTable;
  chosen: Chosen;
  onChosen: (chosen: Chosen) => void;
}

/** What each column is taken for, to be corrected; and what new tools need that no column has. */
function Columns({ table, chosen, onChosen }: ColumnsProps) {
  const fields = Object.entries(table.fields);
  const take = (at: number, field: string) =>
    onChosen({ ...chosen, columns: table.columns.map((column, place) => (place === at ? field : column.field)) });
  return (
    <section aria-label="Columns" className="border-t border-rule-2 py-2">
      <ul className="flex flex-wrap gap-x-4 gap-y-1 text-[14.5px]">
        {table.columns.map((column, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: columns are known by their place
          <li key={at} className="flex items-center gap-1.5">
            <span className="text-ink-2">{column.heading || `column ${at + 1}`} is</span>
            <select
              className={`choice w-auto! border border-ink! px-1 text-left! ${column.field ? "" : "text-warn"}`}
              aria-label={`Column ${column.heading || at + 1}`}
              value={column.field}
              onChange={(event) => take(at, event.currentTarget.value)}
            >
              <option value="">not taken</option>
              {fields.map(([field, name]) => (
                <option key={field} value={field}>
                  {name}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ul>
      {table.lacks.map((field) => (
        <label key={field} className="mt-1.5 flex items-center gap-2 text-[14.5px]">
          {table.fields[field]} of the new tools, which no column has:
          <input
            className="field w-28! border border-ink!"
            inputMode="decimal"
            defaultValue={chosen.missing[field] ?? ""}
            onBlur={(event) =>
              onChosen({ ...chosen, missing: { ...chosen.missing, [field]: event.currentTarget.value } })
            }
          />
        </label>
      ))}
    </section>
  );
}

function Found({ table, onTake }: { table: ToolTable; onTake: () => void }) {
  const bad = table.rows.filter((row) => row.wrong);
  const good = table.rows.filter((row) => row.changes);
  const reported = [...bad, ...good];
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
        {reported.map((row) => (
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
