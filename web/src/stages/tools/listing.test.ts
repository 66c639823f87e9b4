import { expect, test } from "vitest";
import type { Tool } from "../../api/client";
import { listed, windowOf } from "./listing";

const tool = (number: number, name: string, more: Partial<Tool> = {}) =>
  ({ number, name, diameter: 6, length: 60, stick_out: 40, pocket: null, ...more }) as Tool;

const TOOLS = [
  tool(1, "Ball 3", { type: "ball end mill", pocket: 2, length: 47 }),
  tool(12, "drill 5.2", { type: "drill", pocket: 1, length: 73 }),
  tool(3, "drill 8", { type: "drill", length: 73 }),
];
const BY = { filter: "", by: "number", down: false } as const;

test("every word of the filter is found in number, name, type or pocket", () => {
  expect(listed(TOOLS, { ...BY, filter: "drill" })).toEqual([2, 1]);
  expect(listed(TOOLS, { ...BY, filter: "DRILL no pocket" })).toEqual([2]);
  expect(listed(TOOLS, { ...BY, filter: "t12" })).toEqual([1]);
  expect(listed(TOOLS, { ...BY, filter: "reamer" })).toEqual([]);
});

test("sorted by numbers and texts, what has none last, equal ones in their order", () => {
  expect(listed(TOOLS, BY)).toEqual([0, 2, 1]);
  expect(listed(TOOLS, { ...BY, by: "length", down: true })).toEqual([1, 2, 0]);
  expect(listed(TOOLS, { ...BY, by: "pocket" })).toEqual([1, 0, 2]);
  expect(listed(TOOLS, { ...BY, by: "pocket", down: true })).toEqual([0, 1, 2]);
  expect(listed(TOOLS, { ...BY, by: "name" })).toEqual([0, 1, 2]);
});

test("of five hundred rows those are drawn that are seen, and some beyond", () => {
  expect(windowOf(500, 0, 400, 40)).toEqual([0, 18]);
  expect(windowOf(500, 4000, 400, 40)).toEqual([92, 118]);
  expect(windowOf(500, 19_800, 400, 40)).toEqual([487, 500]);
  expect(windowOf(3, 4000, 400, 40)).toEqual([3, 3]);
});
