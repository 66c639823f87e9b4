import { expect, test } from "vitest";
import { pathOf } from "./outlines";

test("an outline stands on its axis, below the gauge line, to scale", () => {
  const points = [
    [3, 20],
    [3, 50],
    [-3, 50],
    [-3, 20],
  ];
  expect(pathOf(points, 100, 40, 2)).toBe("M106 80L106 140L94 140L94 80Z");
  expect(pathOf([], 100, 40, 2)).toBe("");
});
