import { expect, test } from "vitest";
import type { Trace } from "../api/client";
import { meant } from "./by-hand";
import { atLine, nextTouch } from "./run-on";

const trace = {
  segments: [
    { kind: "rapid", end_seconds: 1 },
    { kind: "touch", end_seconds: 2 },
    { kind: "touch", end_seconds: 4 },
  ],
  blocks: [
    { line: 3, end_seconds: 1 },
    { line: 5, end_seconds: 2 },
    { line: 3, end_seconds: 4 },
  ],
} as Trace;

test("goes on to the next touch, and to a line: the next time it is run, else the first", () => {
  expect([0, 2, 3.9].map((time) => nextTouch(trace, time))).toEqual([2, 4, 4]);
  expect(nextTouch(trace, 4)).toBeNull();
  expect([atLine(trace, 0, 3), atLine(trace, 2, 3), atLine(trace, 0, 5), atLine(trace, 0, 4)]).toEqual([2, 0, 1, null]);
});

test("takes a parameter by its number and an input by its state, and nothing that is neither", () => {
  expect(meant("#139", "−2,5", 7)).toEqual({ after: 7, parameter: 139, input: 0, value: -2.5 });
  expect(meant("input 5", "idle", 7)).toEqual({ after: 7, parameter: 0, input: 5, value: 0 });
  expect(meant("input 5", "made", 7)?.value).toBe(1);
  for (const [what, value] of [
    ["#0", "1"],
    ["139", ""],
    ["139", "1e999"],
    ["wide", "1"],
    ["99999", "1"],
  ] as const)
    expect(meant(what, value, 0)).toBeNull();
});
