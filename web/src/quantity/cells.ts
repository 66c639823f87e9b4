/** Moving between the fields of a table: Enter and the arrows go down, up and across. What is left is taken. */

const ACROSS = { ArrowLeft: -1, ArrowRight: 1 } as const;

/** Whether an arrow at this place would leave the text: it is chosen as a whole, or the caret stands at that end. */
function atEnd(field: HTMLInputElement, way: -1 | 1): boolean {
  const { selectionStart: from, selectionEnd: to, value } = field;
  if (from === 0 && to === value.length) return true;
  return from === to && from === (way < 0 ? 0 : value.length);
}

/** The field of the table that a key leads to from this one; null: the key is the field's own. */
export function neighbour(field: HTMLInputElement, key: string, shift: boolean): HTMLInputElement | null {
  const cell = field.closest("td");
  const row = cell?.closest("tr");
  if (!cell || !row) return null;
  if (key === "ArrowDown" || key === "ArrowUp" || key === "Enter") {
    const down = key === "Enter" ? !shift : key === "ArrowDown";
    const at = [...row.cells].indexOf(cell);
    for (let next = beside(row, down); next; next = beside(next, down)) {
      const found = (next as HTMLTableRowElement).cells[at]?.querySelector("input");
      if (found) return found;
    }
    return null;
  }
  const way = ACROSS[key as keyof typeof ACROSS];
  if (!way || !atEnd(field, way)) return null;
  for (let next = beside(cell, way > 0); next; next = beside(next, way > 0)) {
    const found = next.querySelector<HTMLInputElement>("input:not([type=checkbox])");
    if (found) return found;
  }
  return null;
}

const beside = (element: Element, after: boolean) =>
  after ? element.nextElementSibling : element.previousElementSibling;

/** A block of cells as a spreadsheet copies it: rows by line, columns by tab; a cell in quotes may hold either. */
export function cellsOf(text: string): string[][] {
  const rows: string[][] = [[]];
  const cell = /("(?:[^"]|"")*"(?=\t|\r?\n|$)|[^\t\r\n]*)(\t|\r?\n|$)/y;
  for (let found = cell.exec(text); found; found = cell.exec(text)) {
    const [whole, held = "", end] = found;
    rows.at(-1)?.push(held.startsWith('"') ? held.slice(1, -1).replaceAll('""', '"') : held);
    if (end === "") break;
    if (end !== "\t") rows.push([]);
    if (!whole) break;
  }
  if (rows.length > 1 && rows.at(-1)?.join("") === "") rows.pop(); // the end of the last line
  return rows.map((row) => row.map((held) => held.trim()));
}
