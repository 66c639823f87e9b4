/** A block from a spreadsheet over rows and columns of a table: one edit; cells that are wrong stay as they were typed, each with the
 * reason, and are found under "not saved yet". */
import type { ClipboardEvent } from "react";
import { client, type Fault, type Kind } from "../api/client";
import { cellsOf } from "../quantity/cells";
import type { MachineUnit } from "../quantity/format";
import { may } from "../session/session";
import { lose } from "../work/document";
import { edit, keep as keepDraft } from "../work/editing";
import { LOST } from "../work/unsent";

/** What stands in a cell: a quantity, a text, or a whole number that may be missing (a pocket). */
export type CellKind = Kind | "text" | "pocket";

/** A table that can be pasted over. Cells stand by their place in it, counted from 0. */
export interface PasteTable<Whole> {
  /** what all of it stands for in the document */
  pointer: string;
  /** which row shows this, by its `data-index` */
  row: (index: number) => number;
  /** where a cell stands below that, and what in it; none: nothing can be pasted there */
  at: (row: number, column: number) => { path: string; kind: CellKind } | undefined;
  unit: MachineUnit;
  /** the whole with another value in one place */
  put: (whole: Whole, path: string, value: unknown) => Whole;
}

/** A column of a table whose rows are the entries of a list. */
export interface PasteColumn {
  field: string;
  kind: CellKind;
}

/** A table of a list's entries: which of them the rows show, in their order; `put`: an entry with another value of a field. */
export function listed<Entry>(
  list: string,
  rows: number[],
  columns: PasteColumn[],
  unit: MachineUnit,
  put: (entry: Entry, field: string, value: unknown) => Entry,
): PasteTable<Entry[]> {
  return {
    pointer: list,
    unit,
    row: (index) => rows.indexOf(index),
    at(row, column) {
      const [index, into] = [rows[row], columns[column]];
      return index === undefined || !into ? undefined : { path: `${index}/${into.field}`, kind: into.kind };
    },
    put(entries, path, value) {
      const [index = "", ...field] = path.split("/");
      return entries.map((entry, at) => (at === Number(index) ? put(entry, field.join("/"), value) : entry));
    },
  };
}

interface Cell {
  path: string;
  kind: CellKind;
  text: string;
  value?: unknown;
}

/** A block that is pasted into a field of a table; its rows have what they show as `data-index`, its columns begin in the cell
 * `first`. What came of it, in words; null: it is no block, the field takes it. */
export function pasted<Whole>(
  event: ClipboardEvent<HTMLTableElement>,
  table: PasteTable<Whole>,
  first: number,
): Promise<string> | null {
  const text = event.clipboardData.getData("text/plain");
  const cell = (event.target as HTMLElement).closest("td");
  const row = cell?.closest("tr");
  if (!cell || !row?.dataset.index || !may("technician") || !/[\t\n]./.test(text)) return null;
  event.preventDefault();
  return paste(table, table.row(Number(row.dataset.index)), [...row.cells].indexOf(cell) - first, text);
}

const LATER = "No connection to the server; the cells are kept and sent later.";

/** What came of it, in words. */
export async function paste<Whole>(
  table: PasteTable<Whole>,
  row: number,
  column: number,
  text: string,
): Promise<string> {
  const block = cellsOf(text);
  const outside = new Set<string>();
  const cells: Cell[] = block.flatMap((line, down) =>
    line.flatMap((cell, across): Cell[] => {
      const into = table.at(row + down, column + across);
      if (into) return [{ ...into, text: cell }];
      if (cell) outside.add(cell);
      return [];
    }),
  );
  const wrong = await read(cells, table.unit);
  if (wrong === null) {
    for (const cell of cells) keep(table, cell);
    return LATER;
  }
  const fine = cells.filter((cell) => !wrong.has(cell));
  const refused = await put(table, fine);
  for (const [cell, why] of [...wrong, ...refused]) keep(table, cell, why);
  if ([...refused.values()].includes("")) return LATER;
  const bad = wrong.size + refused.size;
  const done = cells.length - bad;
  return [
    `${done} of ${cells.length} ${cells.length === 1 ? "cell" : "cells"} pasted.`,
    bad ? `${bad} not; each says why, and under “not saved yet” all are listed.` : "",
    outside.size ? `Outside the table, not pasted: ${[...outside].join(", ")}.` : "",
  ]
    .filter(Boolean)
    .join(" ");
}

/** The values of the cells; those that are not understood, each with why; null: it can't be asked now. */
async function read(cells: Cell[], unit: MachineUnit): Promise<Map<Cell, string> | null> {
  const wrong = new Map<Cell, string>();
  const asked = cells.filter(({ kind }) => kind !== "text" && kind !== "pocket");
  const every = asked.map(({ text, kind }) => ({ text, kind: kind as Kind, unit }));
  const answer = asked.length ? await client.POST("/api/quantities", { body: { every } }).catch(() => null) : undefined;
  if (answer === null || (answer && !answer.data)) {
    lose(answer?.response.status === 401);
    return null;
  }
  asked.forEach((cell, at) => {
    const found = answer?.data?.[at];
    if (found && found.value !== null) cell.value = found.value;
    else wrong.set(cell, found?.what ?? "It was not understood.");
  });
  for (const cell of cells) {
    if (cell.kind === "text") cell.value = cell.text;
    if (cell.kind !== "pocket") continue;
    if (/^\d*$/.test(cell.text)) cell.value = cell.text ? Number(cell.text) : null;
    else wrong.set(cell, `Enter a whole number, or nothing; got “${cell.text}”.`);
  }
  return wrong;
}

/** Put the cells into the whole as one edit, without those that the server refuses: each with why. */
async function put<Whole>(table: PasteTable<Whole>, cells: Cell[]): Promise<Map<Cell, string>> {
  const refused = new Map<Cell, string>();
  for (let left = cells; left.length; ) {
    const faults = await edit(table.pointer, (before: Whole) =>
      left.reduce((whole, { path, value }) => table.put(whole, path, value), before),
    );
    if (!faults.length) break;
    const theirs = left.filter((cell) => faultOf(table, cell, faults));
    for (const cell of theirs.length ? theirs : left)
      refused.set(cell, (faultOf(table, cell, faults) ?? faults[0])?.what ?? "");
    if (faults[0]?.where === LOST) for (const cell of left) refused.set(cell, "");
    left = left.filter((cell) => !refused.has(cell));
  }
  return refused;
}

type Of = { pointer: string };

const pointerOf = ({ pointer }: Of, { path }: Cell) => `${pointer}/${path}`;

const faultOf = (table: Of, cell: Cell, faults: Fault[]) =>
  faults.find(({ where }) => where === pointerOf(table, cell) || where.startsWith(`${pointerOf(table, cell)}/`));

function keep(table: Of & { unit: MachineUnit }, cell: Cell, why?: string) {
  const { kind } = cell;
  const typed =
    kind === "text" || kind === "pocket"
      ? { value: cell.value ?? cell.text }
      : { text: cell.text, kind, unit: table.unit };
  keepDraft(pointerOf(table, cell), why ? { ...typed, refused: why } : typed);
}
