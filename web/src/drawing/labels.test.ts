import { describe, expect, it } from "vitest";
import { arranged, type Box, covered, cut } from "./labels";

const frame: Box = { left: 0, top: 0, width: 300, height: 120 };
const text = (left: number, top: number, width = 60): Box => ({ left, top, width, height: 16 });
const put = (box: Box, [dx, dy]: readonly [number, number]): Box => ({
  ...box,
  left: box.left + dx,
  top: box.top + dy,
});

describe("texts that make way", () => {
  it("stay where they are when nothing is there", () => {
    expect(arranged([text(100, 10)], [text(200, 10)], frame)).toEqual([[0, 0]]);
  });
  it("meet nothing afterwards, each other neither, and none is cut off", () => {
    const hard = [text(10, 50), text(100, 50), text(190, 50)];
    const soft = [text(15, 52), text(105, 48), text(270, 50), text(20, 55)];
    const offsets = arranged(hard, soft, frame);
    const every = [...hard, ...soft.map((box, index) => put(box, offsets[index] as [number, number]))];
    every.forEach((one, index) => {
      expect(cut(one, frame)).toBe(0);
      for (const other of every.slice(index + 1)) expect(covered(one, other)).toBe(0);
    });
  });
  it("go no further than they have to", () => {
    const [[dx, dy] = [0, 0]] = arranged([text(100, 50)], [text(100, 50)], frame);
    expect([dx, Math.abs(dy)]).toEqual([0, 17]);
  });
  it("stand where they cover least when everything is full", () => {
    const hard = Array.from({ length: 8 }, (_, row) => text(0, row * 15, 300));
    const [[dx, dy] = [9, 9]] = arranged(hard, [text(120, 50)], frame);
    expect(cut(put(text(120, 50), [dx, dy]), frame)).toBe(0);
  });
});
