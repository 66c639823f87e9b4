import { expect, test } from "vitest";
import type { Tool } from "../../api/client";
import { hanging } from "./hanging";

const tool = (length: number) => ({ number: 1, length }) as Tool;

test("the longest tool and the pocket's depth fit the height, and all tools the width", () => {
  const room = { width: 900, height: 300 };
  for (const [tools, depth] of [
    [[tool(60), tool(120)], undefined],
    [[tool(60)], 150],
    [Array.from({ length: 40 }, () => tool(80)), 90],
  ] as [Tool[], number | undefined][]) {
    const hang = hanging(tools, 14, 10, depth, room);
    expect(hang.at(Math.max(...tools.map((entry) => entry.length), depth ?? 0))).toBeLessThanOrEqual(room.height - 12);
    expect(hang.middle(tools.length - 1)).toBeLessThan(room.width);
    expect(hang.at(0)).toBe(hang.gauge);
  }
});
