import { expect, test } from "vitest";
import { keyOf, labelsOf, pairNamed, type Sequence } from "./naming";

test("only tools that are exchanged have rows; those that are measured stand apart", () => {
  const of = (from_tool: number, to_tool: number, routine = "") => ({ from_tool, to_tool, routine });
  const every = [of(0, 2), of(2, 0), of(2, 2), of(9, 9), of(0, 0, "frame corner"), of(0, 0, "frame top")];
  expect(labelsOf(every)).toEqual({ exchanged: [0, 2], measured: [2, 9] });
  expect(new Set(every.map(keyOf)).size).toBe(6);
  expect(labelsOf([])).toEqual({ exchanged: [], measured: [] });
  expect([0, 3, 4].map((at) => pairNamed(every[at] as Sequence))).toEqual([
    "empty to T2",
    "measuring T9",
    "frame corner",
  ]);
});
