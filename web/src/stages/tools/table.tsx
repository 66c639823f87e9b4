/** The table of tools: filtered, sorted, several at once; of many only the rows that are seen are drawn. */
import { ChevronDown, ChevronUp, Trash2 } from "lucide-react";
import { type ClipboardEvent, Fragment, memo, useCallback, useMemo, useRef, useState } from "react";
import type { Fault, Kind, Tool } from "../../api/client";
import { useStyle } from "../../changers";
import { pocketCount, standingIn } from "../../changers/of-changer";
import { listed, type PasteColumn, pasted } from "../../fields/paste";
import { QuantityInput } from "../../fields/quantity-input";
import { described, useUnit } from "../../fields/rows";
import { TextInput } from "../../fields/text-input";
import { unitOf } from "../../quantity/format";
import { changeLength, wholeLength, withLength } from "../../readings/lengths";
import { may } from "../../session/session";
import { useSetup } from "../../work/document";
import { edit } from "../../work/editing";
import { type Column, type Listing, windowOf } from "./listing";

const COLUMNS: [Column & keyof Tool, string, Kind, string][] = [
  ["number", "T", "count", "w-20"],
  ["diameter", "Diameter", "length", "w-28"],
  ["length", "Length", "length", "w-28"],
  ["stick_out", "Stick-out", "length", "w-28"],
  ["shank_above", "Shank above", "length", "w-28"],
];

/** px; of a row, and how many are drawn whole before only those that are seen are. */
const ROW = 45;
const ALL = 60;

/** A shank stands into the spindle's bore only where a nut holds the tool. */
function useColumns() {
  const threaded = useStyle()?.holds === "nut";
  return COLUMNS.filter(([field]) => threaded || field !== "shank_above");
}

interface TableProps {
  tools: Tool[];
  /** the places of the tools that are shown, in their order */
  order: number[];
  listing: Listing;
  onListing: (listing: Listing) => void;
  picked: Set<number>;
  onPick: (numbers: number[], on: boolean) => void;
  chosen: number;
  onChoose: (index: number) => void;
  trouble: { row: number; text: string } | null;
  tell: (row: number, faults: Fault[]) => Fault[];
  /** a block of cells was pasted: what came of it */
  onPasted: (says: string) => void;
  /** how far the table is scrolled, and how high what is seen of it is, px */
  scrolled: number;
  height: number;
}

/** What each pocket has, as it is offered: for every tool the others are reported. */
type Choices = { pocket: number; what: string; tool: number }[];

function pocketChoices(count: number, standing: Map<number, string>, tools: Tool[]): Choices {
  const holders = new Map(tools.filter((tool) => tool.pocket).map((tool) => [tool.pocket, tool.number]));
  return Array.from({ length: count }, (_, at) => ({
    pocket: at + 1,
    what: standing.get(at + 1) ?? "",
    tool: holders.get(at + 1) ?? 0,
  }));
}

export function ToolTable(props: TableProps) {
  const { tools, order, chosen, onChoose, trouble, tell, picked, onPick } = props;
  const columns = useColumns();
  const count = useSetup((setup) => pocketCount(setup?.changer));
  const standing = standingIn(useSetup());
  const key = JSON.stringify([count, [...standing], tools.map((tool) => [tool.number, tool.pocket])]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key has all of it; rows are drawn anew only where it changes
  const choices = useMemo(() => pocketChoices(count, standing, tools), [key]);
  const onPaste = usePaste(props);
  const latest = useRef(onPick);
  latest.current = onPick;
  const pick = useCallback((number: number, on: boolean) => latest.current([number], on), []);
  return (
    <table className="mx-4 mb-4" onPaste={onPaste}>
      <Head {...props} />
      <tbody>
        {drawn(order, props).map((row) =>
          "gap" in row ? (
            <tr key={`gap ${row.at}`} style={{ height: row.gap * ROW }} aria-hidden>
              <td colSpan={columns.length + 4} />
            </tr>
          ) : (
            <Row
              key={tools[row.index]?.number}
              tool={tools[row.index] as Tool}
              index={row.index}
              chosen={chosen === row.index}
              picked={picked.has(tools[row.index]?.number ?? 0)}
              choices={choices}
              onChoose={onChoose}
              onPick={pick}
              trouble={trouble?.row === row.index ? trouble.text : null}
              tellRow={tell}
            />
          ),
        )}
      </tbody>
    </table>
  );
}

/** A block of cells over the table, from the field that it is pasted into. */
function usePaste({ order, onPasted }: TableProps): (event: ClipboardEvent<HTMLTableElement>) => void {
  const unit = useUnit();
  const columns = useColumns();
  return (event) => {
    const [number, ...others] = columns.map(([field, , kind]) => ({ field, kind }));
    const put = (tool: Tool, field: string, value: unknown) =>
      field === "length" ? withLength(tool, { length: value as number }) : { ...tool, [field]: value };
    const into = [number as PasteColumn, NAME, ...others, POCKET];
    void pasted(event, listed("/tools", order, into, unit, put), 1)?.then(onPasted);
  };
}

const NAME: PasteColumn = { field: "name", kind: "text" };
const POCKET: PasteColumn = { field: "pocket", kind: "pocket" };

type Drawn = { index: number } | { gap: number; at: number };

/** The rows that are drawn, and the gaps between: those that are seen, and the one that is worked in, which would lose what is
 * typed. */
function drawn(order: number[], { scrolled, height, chosen }: TableProps): Drawn[] {
  if (order.length <= ALL) return order.map((index) => ({ index }));
  const [first, end] = windowOf(order.length, scrolled, height, ROW);
  const places = new Set(Array.from({ length: end - first }, (_, at) => first + at));
  const worked = order.indexOf(chosen);
  if (worked >= 0) places.add(worked);
  const rows: Drawn[] = [];
  let at = 0;
  for (const place of [...places].sort((one, other) => one - other)) {
    if (place > at) rows.push({ gap: place - at, at });
    rows.push({ index: order[place] as number });
    at = place + 1;
  }
  if (at < order.length) rows.push({ gap: order.length - at, at });
  return rows;
}

function Head({ tools, order, listing, onListing, picked, onPick }: TableProps) {
  const unit = useUnit();
  const columns = useColumns();
  const shown = order.map((index) => tools[index]?.number ?? 0);
  const all = shown.length > 0 && shown.every((number) => picked.has(number));
  const sort = (by: Column) => onListing({ ...listing, by, down: listing.by === by && !listing.down });
  const sorted = (by: Column) => (listing.by === by ? (listing.down ? "descending" : "ascending") : "none");
  const button = (by: Column, title: string) => (
    <button type="button" className="inline-flex min-h-8 items-center gap-1" onClick={() => sort(by)}>
      {title}
      {listing.by === by && (listing.down ? <ChevronDown size={13} /> : <ChevronUp size={13} />)}
    </button>
  );
  return (
    <thead>
      <tr className="border-b border-rule text-ink-2">
        <th className="w-9">
          {may("technician") && (
            <input
              type="checkbox"
              aria-label="Choose all that are shown"
              className="size-5"
              checked={all}
              onChange={(event) => onPick(shown, event.currentTarget.checked)}
            />
          )}
        </th>
        <th className="py-1 pr-3 text-right font-normal" aria-sort={sorted("number")}>
          {button("number", "T")}
        </th>
        <th className="px-2 text-left font-normal" aria-sort={sorted("name")}>
          {button("name", "Name")}
        </th>
        {columns.slice(1).map(([field, title]) => (
          <th key={title} className="px-2 text-right font-normal" aria-sort={sorted(field)}>
            {button(field, `${title}, ${unitOf("length", unit)}`)}
          </th>
        ))}
        <th className="px-2 text-right font-normal" aria-sort={sorted("pocket")}>
          {button("pocket", "Pocket")}
        </th>
        <th />
      </tr>
    </thead>
  );
}

interface RowProps {
  tool: Tool;
  index: number;
  chosen: boolean;
  picked: boolean;
  choices: Choices;
  onChoose: (index: number) => void;
  onPick: (number: number, on: boolean) => void;
  trouble: string | null;
  tellRow: (row: number, faults: Fault[]) => Fault[];
}

type Says = { text: string; wrong: boolean } | null;

const Row = memo(function Row(props: RowProps) {
  const { tool, index, chosen, picked, choices, onChoose, onPick, trouble, tellRow } = props;
  const tell = (faults: Fault[]) => tellRow(index, faults);
  const unit = useUnit();
  const [says, setSays] = useState<Says>(null);
  const readOnly = !may("technician");
  const columns = useColumns();
  const base = `/tools/${index}`;
  const line = trouble ?? says?.text;
  return (
    <>
      <tr
        className={`border-b border-rule-2 ${chosen ? "bg-now-wash shadow-[inset_3px_0_var(--now)]" : ""}`}
        data-index={index}
        onFocus={() => onChoose(index)}
      >
        <PickCell number={tool.number} picked={picked} readOnly={readOnly} onPick={onPick} />
        {columns.map(([field, title, kind, wide]) => (
          <Fragment key={field}>
            <td className={`table-cell px-2 py-1 ${wide}`}>
              <QuantityInput
                label={`T${tool.number} ${title === "T" ? "number" : title.toLowerCase()}`}
                value={(tool[field] as number | undefined) ?? 0}
                kind={kind}
                unit={unit}
                pointer={`${base}/${field}`}
                readOnly={readOnly}
                onCommit={(value) => put(index, field, value).then(tell)}
                onSays={setSays}
              />
            </td>
            {field === "number" && (
              <NameCell tool={tool} base={base} readOnly={readOnly} tell={tell} onSays={setSays} />
            )}
          </Fragment>
        ))}
        <td className="w-36 px-2">
          <PocketChoice tool={tool} base={base} readOnly={readOnly} tell={tell} choices={choices} />
        </td>
        <td className="whitespace-nowrap">
          <NotInUse tool={tool} />
          {!readOnly && <Remove tool={tool} tell={tell} />}
        </td>
      </tr>
      {line && (
        <tr>
          <td colSpan={9}>
            <p className={`says ${trouble || says?.wrong ? "wrong" : "understood"}`} role="alert">
              {line}
            </p>
          </td>
        </tr>
      )}
    </>
  );
});

/** Put a value into a tool; a length is marked until the control uses it. */
const put = (index: number, field: string, value: number) =>
  field === "length" ? changeLength(index, { length: value }) : edit(`/tools/${index}/${field}`, value);

function PickCell(props: Pick<RowProps, "picked" | "onPick"> & { number: number; readOnly: boolean }) {
  const { number, picked, readOnly, onPick } = props;
  return (
    <td className="w-9 text-center">
      {!readOnly && (
        <input
          type="checkbox"
          aria-label={`Choose T${number}`}
          className="size-5"
          checked={picked}
          onChange={(event) => onPick(number, event.currentTarget.checked)}
        />
      )}
    </td>
  );
}

function NotInUse({ tool }: { tool: Tool }) {
  if (tool.in_use == null || Math.abs(tool.in_use - wholeLength(tool)) <= 1e-6) return null;
  return (
    <span className="pr-1 text-warn" title="The control does not use this length yet" data-unused={tool.number}>
      not in use
    </span>
  );
}

interface CellProps {
  tool: Tool;
  base: string;
  readOnly: boolean;
  tell: (faults: Fault[]) => Fault[];
}

function NameCell({ tool, base, readOnly, tell, onSays }: CellProps & { onSays: (says: Says) => void }) {
  return (
    <td className="table-cell w-56 px-2">
      <TextInput
        className="text-left!"
        label={`T${tool.number} name`}
        readOnly={readOnly}
        value={tool.name}
        onTake={async (text) => described(tell(await edit(`${base}/name`, text)))}
        onSays={(says) => onSays(says ? { text: says, wrong: true } : null)}
      />
    </td>
  );
}

function PocketChoice({ tool, base, readOnly, tell, choices }: CellProps & { choices: Choices }) {
  return (
    <select
      className="choice"
      aria-label={`T${tool.number} pocket`}
      value={tool.pocket ?? ""}
      disabled={readOnly}
      onChange={(event) =>
        void edit(`${base}/pocket`, event.currentTarget.value ? Number(event.currentTarget.value) : null).then(tell)
      }
    >
      <option value="">none</option>
      {choices.map(({ pocket, what, tool: other }) => (
        <option key={pocket} value={pocket}>
          {pocket}
          {what ? ` (${what})` : other && other !== tool.number ? ` (T${other})` : ""}
        </option>
      ))}
    </select>
  );
}

function Remove({ tool, tell }: Pick<CellProps, "tool" | "tell">) {
  return (
    <button
      type="button"
      className="button plain border-0! bg-transparent! px-3!"
      aria-label={`Remove T${tool.number}`}
      title={`Remove T${tool.number}`}
      onClick={() =>
        void edit("/tools", (now: Tool[]) => now.filter((entry) => entry.number !== tool.number)).then(tell)
      }
    >
      <Trash2 size={16} />
    </button>
  );
}
