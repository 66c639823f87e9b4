import { beforeEach, expect, it } from "vitest";
import { cellsOf, neighbour } from "./cells";

it("reads a block as a spreadsheet copies it", () => {
  expect(cellsOf("1\t2.5\r\n3\t\n")).toEqual([
    ["1", "2.5"],
    ["3", ""],
  ]);
  expect(cellsOf('"6 mm ""long"""\t"two\nlines"\n')).toEqual([['6 mm "long"', "two\nlines"]]);
  expect(cellsOf("\t7")).toEqual([["", "7"]]);
  expect(cellsOf("a\n\nb")).toEqual([["a"], [""], ["b"]]);
  expect(cellsOf('3/8" shank\t2')).toEqual([['3/8" shank', "2"]]);
});

const fields = () => [...document.querySelectorAll<HTMLInputElement>("input")];

beforeEach(() => {
  document.body.innerHTML = `<table><tr><td><input type="checkbox"></td><td><input value="11"></td><td><input value="12"></td></tr>
    <tr><td colspan="3">a message</td></tr><tr><td></td><td><input value="21"></td><td><input value="22"></td></tr></table><input value="out">`;
});

it("goes down with Enter and arrows over what is no row of fields, and stays where there is none", () => {
  const [, first, second, below, last, out] = fields() as [
    HTMLInputElement,
    ...HTMLInputElement[],
  ] as HTMLInputElement[];
  if (!first || !second || !below || !last || !out) throw new Error("fields are missing");
  expect(neighbour(first, "Enter", false)).toBe(below);
  expect(neighbour(below, "Enter", true)).toBe(first);
  expect(neighbour(second, "ArrowDown", false)).toBe(last);
  expect([neighbour(last, "Enter", false), neighbour(out, "Enter", false)]).toEqual([null, null]);
});

it("goes across where the text is chosen as a whole or the caret stands at its end, never onto a box", () => {
  const [, first, second] = fields() as HTMLInputElement[];
  if (!first || !second) throw new Error("fields are missing");
  first.setSelectionRange(0, 2);
  expect(neighbour(first, "ArrowRight", false)).toBe(second);
  expect(neighbour(first, "ArrowLeft", false)).toBeNull();
  second.setSelectionRange(1, 1);
  expect(neighbour(second, "ArrowLeft", false)).toBeNull();
  second.setSelectionRange(0, 0);
  expect(neighbour(second, "ArrowLeft", false)).toBe(first);
});
