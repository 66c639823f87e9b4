/** How the tools hang from the gauge line beside one another: the scale, and where each stands. */
import type { Tool } from "../../api/client";

export interface Hanging {
  /** the gauge line, px; `at`: what is so many mm below it; `wide`: mm across */
  gauge: number;
  at: (below: number) => number;
  wide: (mm: number) => number;
  middle: (index: number) => number;
  /** the radius of nut or holder, and how far it stands above the gauge line, mm */
  nut: number;
  engaged: number;
}

/** `depth`: of the pockets, mm, where there are any. */
export function hanging(
  tools: Tool[],
  nut: number,
  engaged: number,
  depth: number | undefined,
  room: { width: number; height: number },
): Hanging {
  const count = Math.max(1, tools.length);
  const longest = Math.max(40, depth ?? 0, ...tools.map((tool) => tool.length));
  const high = (room.height - 74) / (longest + engaged + 26);
  const scale = Math.max(0.3, Math.min(high, (room.width - 180) / count / (2 * nut + 22)));
  const gauge = 34 + (engaged + 22) * scale;
  const step = Math.min(150, (room.width - 170) / count);
  return {
    gauge,
    nut,
    engaged,
    at: (below) => gauge + below * scale,
    wide: (mm) => mm * scale,
    middle: (index) => 110 + step * (index + 0.5),
  };
}
