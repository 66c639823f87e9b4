import { expect, test } from "vitest";
import { labelsOf, pairNamed } from "./naming";

test("only tools that are exchanged have rows; the others are measured apart", () => {
  const of = (from_tool: number, to_tool: number) => ({ from_tool, to_tool });
  expect(labelsOf([of(0, 2), of(2, 0), of(2, 2), of(9, 9)])).toEqual({ exchanged: [0, 2], measured: [9] });
  expect(labelsOf([])).toEqual({ exchanged: [], measured: [] });
  expect([pairNamed(0, 2), pairNamed(9, 9)]).toEqual(["empty to T2", "measuring T9"]);
});
