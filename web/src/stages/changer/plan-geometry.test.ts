import { expect, test } from "vitest";
import { isDense, labelSide } from "./plan-geometry";
import { placing } from "./residual-placing";

const pocket = (number: number, x: number, y: number) => ({ pocket: number, x, y, tool: 0, reserved: false });
const place = (x: number, y: number) => [expect.closeTo(x, 9), expect.closeTo(y, 9)];

test("numbers stand outwards on a disc, and away from the second row on a rack", () => {
  const disc = [pocket(1, 10, 0), pocket(2, 0, 10), pocket(3, -10, 0), pocket(4, 0, -10)];
  expect(labelSide(disc, true)(disc[1] as (typeof disc)[0])).toEqual(place(0, 1));
  const rows = [pocket(1, 0, 0), pocket(2, 50, 0), pocket(3, 0, 60), pocket(4, 50, 60)];
  expect(labelSide(rows, false)(rows[0] as (typeof rows)[0])).toEqual(place(0, -1));
  const upright = [pocket(1, 0, 0), pocket(2, 0, 50)];
  expect(Math.abs(labelSide(upright, false)(upright[0] as (typeof upright)[0])[0])).toBe(1);
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
