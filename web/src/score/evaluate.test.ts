import { describe, expect, it } from "vitest";
import type { Trace } from "../api/client";
import { blockAt, carriedAt, curve, gone, heldAt, parametersAt, placeAt, speedAt } from "./evaluate";

const law = { way: 100, speed: 50, acceleration: 100, ramp: 0.5, seconds: 2.5 };
const block = { start_seconds: 0, end_seconds: 0, record: 0, doubtful: false, tool: 0, set: {} };
const trace: Trace = {
  seconds: 4,
  ended: "end",
  segments: [
    {
      line: 2,
      kind: "rapid",
      start_seconds: 0,
      end_seconds: 2.5,
      start: [0, 0, 0],
      end: [100, 0, 0],
      feed: 0,
      law,
      arc: null,
    },
    {
      line: 3,
      kind: "dwell",
      start_seconds: 2.5,
      end_seconds: 4,
      start: [100, 0, 0],
      end: [100, 0, 0],
      feed: 0,
      law: null,
      arc: null,
    },
  ],
  blocks: [
    { ...block, line: 1, set: { "#101": 2, "#20": 1 } },
    { ...block, line: 2, end_seconds: 2.5 },
    { ...block, line: 3, start_seconds: 2.5, end_seconds: 4, set: { "#101": 3 } },
  ],
  spindle: [{ start_seconds: 1, end_seconds: 2, start_speed: 0, end_speed: -1000 }],
  holding: [
    { at_seconds: 0, tool: 0 },
    { at_seconds: 1, tool: null },
    { at_seconds: 2, tool: 7 },
  ],
};

describe("a trace at a moment", () => {
  it("goes its whole way, half of it in half the time", () => {
    expect(gone(law, 0)).toBe(0);
    expect(gone(law, 1.25)).toBeCloseTo(50);
    expect(gone(law, 0.5)).toBeCloseTo(12.5);
    expect(gone(law, 9)).toBe(100);
  });
  it("has the place of the moment", () => {
    expect(placeAt(trace, 1.25)?.[0]).toBeCloseTo(50);
    expect(placeAt(trace, 3)).toEqual([100, 0, 0]);
  });
  it("follows an arc on its circle", () => {
    const way = Math.PI * 5;
    const arc = { axes: [0, 1, 2], centre: [0, 0], radius: 10, start_angle: 0, sweep: Math.PI / 2, rise: 4 };
    const round = { ...law, way, speed: way, ramp: 1, seconds: 2, acceleration: way };
    const turned = {
      ...trace,
      segments: [{ ...trace.segments[0], end: [0, 10, 4], law: round, arc, end_seconds: 2 }],
    } as Trace;
    const [x, y, z] = placeAt(turned, 1) as [number, number, number];
    expect(Math.hypot(x, y)).toBeCloseTo(10);
    expect(z).toBeCloseTo(2);
  });
  it("knows what is held, what is carried and how fast the spindle turns", () => {
    expect([heldAt(trace, 0.5), heldAt(trace, 1.5), heldAt(trace, 3)]).toEqual([0, null, 7]);
    expect(carriedAt(trace, 1.5)).toBe(7);
    expect(speedAt(trace, 1.5)).toBeCloseTo(-500);
    expect(speedAt(trace, 3)).toBe(-1000);
  });
  it("finds the block and the parameters after it", () => {
    expect([blockAt(trace, 0), blockAt(trace, 2), blockAt(trace, 3)]).toEqual([1, 1, 2]);
    expect(parametersAt(trace, 1)).toEqual([
      ["#20", 1],
      ["#101", 2],
    ]);
    expect(parametersAt(trace, 2)[1]).toEqual(["#101", 3]);
  });
  it("draws a lane from its beginning to its end", () => {
    const points = curve(trace, 0);
    expect(points[0]).toEqual([0, 0]);
    expect(points.at(-1)).toEqual([4, 100]);
  });
});
