import { expect, test } from "vitest";
import type { Tool } from "../../api/client";
import { type Cutter, outlineOf } from "./outline";

const cutter: Cutter = { x: 100, half: 10, top: 50, tip: 150, scale: 2 };
const tool = (part: Partial<Tool>) => ({ number: 1, name: "", ...part }) as Tool;
const numbers = (path: string) => path.match(/-?[\d.]+/g)?.map(Number) ?? [];

test("every outline stays within the cutter and is closed", () => {
  const types = [
    "flat end mill",
    "ball end mill",
    "corner-radius end mill",
    "face mill",
    "drill",
    "spot drill",
  ] as const;
  const more = [
    "chamfer mill",
    "reamer",
    "tap",
    "boring bar",
    "slot cutter",
    "engraver",
    "reference tool",
    "probe",
  ] as const;
  const drawn = new Set<string>();
  for (const type of [...types, ...more]) {
    const path = outlineOf(tool({ type }), cutter);
    drawn.add(path);
    expect(path.endsWith("Z"), type).toBe(true);
    for (const [, y] of path.matchAll(/[ML ]?\d[\d.]* (\d[\d.]*)/g)) expect(Number(y)).toBeLessThanOrEqual(150);
  }
  expect(drawn.size).toBe(13); // the reference tool is a plain pin, as a flat end mill is
});

test("a point has its angle, and a corner its radius", () => {
  const high = (angle_deg: number | null) =>
    150 - (numbers(outlineOf(tool({ type: "drill", angle_deg }), cutter))[2] ?? 0);
  expect(high(90)).toBeCloseTo(10);
  expect(high(null)).toBeCloseTo(10 / Math.tan((59 * Math.PI) / 180));
  expect(high(60)).toBeGreaterThan(high(90));
  expect(outlineOf(tool({ type: "corner-radius end mill", corner_radius: 1.5 }), cutter)).toContain("A3 3 ");
});
