import { describe, expect, it } from "vitest";
import type { Trace } from "../api/client";
import { lanesOf, scoreHeight } from "../score/lanes";
import { signalLanes } from "../score/signals";
import {
  blockAt,
  carriedAt,
  curve,
  deviceAt,
  frontAt,
  gone,
  heldAt,
  parametersAt,
  placeAt,
  speedAt,
  storedAt,
  swungAt,
} from "./evaluate";

const law = { way: 100, speed: 50, acceleration: 100, ramp: 0.5, seconds: 2.5 };
const block = { position: [0, 0, 0], start_seconds: 0, end_seconds: 0, record: 0, doubtful: false, tool: 0, set: {} };
const trace: Trace = {
  seconds: 4,
  stored: [
    { at_seconds: 0, pockets: [{ pocket: 2, tool: 7 }] },
    { at_seconds: 2, pockets: [] },
  ],
  inputs: [
    { at_seconds: 0, made: ["home"] },
    { at_seconds: 1, made: [] },
    { at_seconds: 4, made: ["home"] },
  ],
  devices: [
    { device: "disc", was: "home", state: "out", start_seconds: 1, end_seconds: 2 },
    { device: "turn", was: "1", state: "23", start_seconds: 2, end_seconds: 3 },
    { device: "disc", was: "out", state: "home", start_seconds: 3, end_seconds: 4 },
  ],
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

describe("what moves besides the spindle", () => {
  it("swings out and home in its time, and turns by the shorter way", () => {
    expect([0.5, 1.5, 2.5, 3.25, 5].map((t) => swungAt(trace, "disc", t, "home"))).toEqual([0, 0.5, 1, 0.75, 0]);
    expect([1, 2.5, 3.5].map((t) => frontAt(trace, t, 24))).toEqual([1, 0, -1]);
    expect(deviceAt(trace, "pot", 2, "up")).toEqual({ was: "up", state: "up", part: 1 });
  });
  it("has a lane for each device, and for each input that changes", () => {
    const lanes = signalLanes(trace);
    expect(lanes.map((lane) => lane.name)).toEqual(["disc", "disc turns", "home"]);
    expect(lanes[1]?.held).toEqual([{ start: 3, end: 4, text: "pocket 23" }]);
    expect(lanes[2]?.held.map(({ start, end }) => [start, end])).toEqual([
      [0, 1],
      [4, 4],
    ]);
  });
  it("shares the height among its lanes: none on another, thin where it is tight, all within what is asked for", () => {
    const many = signalLanes(trace).flatMap((lane) => [lane, lane, lane, lane]);
    for (const height of [150, 208, 320, 900]) {
      const { axes, spindle, tool, signals, bottom } = lanesOf(trace, many, height);
      const every = [...axes, spindle, tool, ...signals];
      every.slice(1).forEach((lane, index) => {
        const before = every[index] as (typeof every)[0];
        expect(lane.top).toBeGreaterThan(before.top + before.height);
      });
      expect(bottom <= height || signals.every((lane) => lane.height === 11)).toBe(true);
    }
    const needed = scoreHeight(trace, 0);
    expect(lanesOf(trace, signalLanes(trace), needed).bottom).toBeLessThanOrEqual(needed);
    expect(scoreHeight(trace, 208)).toBe(208);
    expect(scoreHeight(null, 208)).toBe(208);
  });
  it("is in its pocket until it is taken", () => {
    expect([...storedAt(trace, 1.9)]).toEqual([[2, 7]]);
    expect(storedAt(trace, 2).size).toBe(0);
  });
});
