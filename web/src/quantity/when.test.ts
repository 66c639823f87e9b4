import { expect, it } from "vitest";
import { workOffset } from "./format";
import { when } from "./when";

it("writes a moment in ISO order, in the browser's zone", () => {
  const at = new Date(2026, 10, 5, 7, 4, 59);
  expect(when(at.toISOString())).toBe("2026-11-05 07:04");
  expect(when("2026-11-25T21:41:07Z")).toMatch(/^2026-11-2[456] \d\d:41$/);
});

it("names a work offset with its word", () => {
  expect([1, 6, 7, 9].map(workOffset)).toEqual([
    "work offset 1 (G54)",
    "work offset 6 (G59)",
    "work offset 7 (G59.1)",
    "work offset 9 (G59.3)",
  ]);
});
