import { expect, test } from "vitest";
import { isCounted, isDense, labelSide } from "./plan-geometry";
import { placing } from "./residual-placing";

const pocket = (number: number, x: number, y: number) => ({ pocket: number, x, y, tool: 0, reserved: false });
type Pocket = ReturnType<typeof pocket>;
const place = (x: number, y: number) => [expect.closeTo(x, 9), expect.closeTo(y, 9)];

test("numbers stand outwards on a disc, and away from the second row on a rack", () => {
  const disc = [pocket(1, 10, 0), pocket(2, 0, 10), pocket(3, -10, 0), pocket(4, 0, -10)];
  expect(labelSide(disc, true)(disc[1] as (typeof disc)[0])).toEqual(place(0, 1));
  const rows = [pocket(1, 0, 0), pocket(2, 50, 0), pocket(3, 0, 60), pocket(4, 50, 60)];
  expect(labelSide(rows, false)(rows[0] as (typeof rows)[0])).toEqual(place(0, -1));
  const upright = [pocket(1, 0, 0), pocket(2, 0, 50)];
  expect(Math.abs(labelSide(upright, false)(upright[0] as (typeof upright)[0])[0])).toBe(1);
});

test("in a grid each outer row has its numbers on its own side, and only the first row is counted where it is dense", () => {
  const grid = [0, 1, 2].flatMap((row) => [0, 1, 2].map((at) => pocket(row * 3 + at + 1, at * 50, row * 60)));
  const side = labelSide(grid, false);
  const [first, middle, last] = [grid[0], grid[4], grid[8]] as [Pocket, Pocket, Pocket];
  expect([side(first)[1], side(last)[1]]).toEqual(place(-1, 1));
  expect(Math.abs(side(middle)[0]) > 0 && Math.abs(side(middle)[1]) > 0).toBe(true);
  expect(grid.filter((entry) => isCounted(entry, grid)).map((entry) => entry.pocket)).toEqual([1]);
  const row = [1, 2, 3, 4, 5, 6, 7].map((number) => pocket(number, number * 50, 0));
  expect(row.filter((entry) => isCounted(entry, row)).map((entry) => entry.pocket)).toEqual([1, 6]);
});

test("neighbours are dense by their distance on the screen", () => {
  const pockets = [pocket(1, 0, 0), pocket(2, 0, 50)];
  expect([isDense(pockets, 0.5), isDense(pockets, 0.6)]).toEqual([true, false]);
});

test("an arrow is magnified while it fits its ring, and ends at the allowance where it is beyond", () => {
  const rack = { count: 4, placing_tolerance: 0.2 } as Parameters<typeof placing>[0];
  const { arrow, middle, radius } = placing(rack, [0.01, 0.016], 600);
  const [x] = arrow(2, { dx: 0.01, dy: 0, distance: 0.01 });
  expect(x - middle(2)[0]).toBeCloseTo(10 * 0.01 * (radius / 0.2));
  const far = placing(rack, [1], 600).arrow(1, { dx: 0, dy: -1, distance: 1 });
  expect(far[1] - middle(1)[1]).toBeCloseTo(radius);
});
