import { describe, expect, it } from "vitest";
import { closer, filledBy, moved, placed, type Region, snapped, WHOLE } from "./zoom";

/** Where a place of the sheet is seen, in parts of the window. */
const seen = (region: Region, place: number, axis: "x" | "y") => (place - region[axis]) / region.size;

describe("the part of a sheet that is shown", () => {
  it("keeps what is at the pointer where it is, nearer and further", () => {
    let region = WHOLE;
    for (const [by, at] of [
      [1.25, [0.3, 0.7]],
      [4, [0.35, 0.65]],
      [0.8, [0.34, 0.66]],
    ] as const) {
      const next = closer(region, by, at);
      expect(seen(next, at[0], "x")).toBeCloseTo(seen(region, at[0], "x"), 9);
      expect(seen(next, at[1], "y")).toBeCloseTo(seen(region, at[1], "y"), 9);
      region = next;
    }
    expect(region.size).toBeCloseTo(1 / (1.25 * 4 * 0.8), 9);
  });
  it("never leaves the sheet, and is the whole of it again when it is far enough", () => {
    const near = closer(WHOLE, 1e9, [1, 0]);
    expect(near.size).toBeCloseTo(1 / 40, 9);
    expect(moved(near, 5, -5)).toEqual({ ...near, x: 1 - near.size, y: 0 });
    expect(closer(near, 1e-9, [0.5, 0.5])).toEqual(WHOLE);
  });
  it("is filled by a view, whatever its shape", () => {
    for (const view of [
      { left: 100, top: 50, width: 300, height: 40 },
      { left: 700, top: 10, width: 60, height: 380 },
    ]) {
      const { x, y, size } = filledBy(view, 800, 400);
      expect(x * 800).toBeLessThanOrEqual(view.left);
      expect((x + size) * 800).toBeGreaterThanOrEqual(view.left + view.width);
      expect(y * 400).toBeLessThanOrEqual(view.top);
      expect((y + size) * 400).toBeGreaterThanOrEqual(view.top + view.height);
      expect(Math.max(view.width / (size * 800), view.height / (size * 400))).toBeGreaterThan(0.85);
    }
  });
});

describe("what is measured on a sheet", () => {
  const plan = { left: 100, top: 20, width: 200, height: 100 };
  const views = [
    {
      name: "Plan",
      view: plan,
      axes: ["X", "Y"] as const,
      across: (mm: number) => 100 + mm / 2,
      up: (mm: number) => 120 - mm / 2,
    },
  ];
  it("has machine coordinates in each view, and none outside them", () => {
    expect(placed(views, 150, 70)?.at).toEqual([100, 100]);
    expect(placed(views, 150, 200)).toBeNull();
  });
  it("snaps to an edge that is near, along each axis by itself", () => {
    expect(snapped(51, [40, 52.5, 60], 2)).toBe(52.5);
    expect(snapped(46, [40, 52.5, 60], 2)).toBe(46);
    expect(snapped(46, [], 2)).toBe(46);
  });
});
