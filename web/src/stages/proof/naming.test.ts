import { expect, test } from "vitest";
import { keyOf, sequenceName } from "../../sequences";
import type { Sequence } from "../../sequences/sequence";
import { exchangeOf, measuringOf, toolsOf } from "./naming";

test("only tools that are exchanged have rows; those that are measured stand apart", () => {
  const routine = (name: string): Sequence => ({ kind: "routine", name });
  const exchanges = [exchangeOf(0, 2), exchangeOf(2, 0)];
  const calibrating = { kind: "measuring", name: "calibrate", tools: [5], setter: null } as Sequence;
  const every = [
    ...exchanges,
    measuringOf(2),
    measuringOf(9),
    calibrating,
    routine("frame corner"),
    routine("frame top"),
  ];
  expect(toolsOf(every)).toEqual({ exchanged: [0, 2], measured: [2, 9] });
  expect(new Set(every.map(keyOf)).size).toBe(7);
  expect(toolsOf([])).toEqual({ exchanged: [], measured: [] });
  expect([0, 3, 4, 5].map((at) => sequenceName(every[at] as Sequence))).toEqual([
    "empty to T2",
    "measuring T9",
    "calibrate with T5",
    "frame corner",
  ]);
  const other = { to_tool: 2, kind: "exchange", from_tool: 0 } as Sequence; // as another server orders it
  expect(keyOf(other)).toBe(keyOf(exchangeOf(0, 2)));
});
