import { expect, it } from "vitest";
import { viewOfMove } from "./followed";

const VIEWS: { name: string; axes: [string, string] }[] = [
  { name: "Plan", axes: ["X", "Y"] },
  { name: "Front", axes: ["X", "Z"] },
  { name: "Side", axes: ["Y", "Z"] },
];

it("follows a move in the view where most of it is seen, and none that is no move", () => {
  const from = { X: 100, Y: 100, Z: 0 };
  expect(viewOfMove(from, { ...from, X: 101, Y: 99 }, VIEWS)).toBe("Plan");
  expect(viewOfMove(from, { ...from, Z: -1 }, VIEWS)).toBe("Front");
  expect(viewOfMove(from, { ...from, Y: 101, Z: -1 }, VIEWS)).toBe("Side");
  expect(viewOfMove(from, { ...from, X: 100.01 }, VIEWS)).toBeNull();
  expect(viewOfMove(from, { ...from, X: 102 }, [])).toBeNull();
});
