/** Where the rings of a rack's pockets stand, and how long their arrows are: residuals magnified against the allowance. */
import type { Rack } from "../../api/client";

/** The height of a row, px. */
export const HIGH = 162;

export interface Placing {
  /** of a ring, px; `scale`: px a mm in it */
  radius: number;
  scale: number;
  middle: (pocket: number) => [number, number];
  /** where the arrow of a residual (mm) ends: magnified, and no longer than the allowance where it is beyond it */
  arrow: (pocket: number, residual: { dx: number; dy: number; distance: number }) => [number, number];
}

export function placing(rack: Rack, distances: number[], width: number): Placing {
  const step = Math.max(20, (width - 60) / Math.max(1, rack.count));
  const radius = Math.min(34, step / 2 - 3);
  const scale = radius / rack.placing_tolerance;
  const worst = Math.max(0, ...distances);
  const larger = worst > 0 ? ([20, 10, 5, 2].find((times) => worst * times <= 0.85 * rack.placing_tolerance) ?? 1) : 1;
  const middle = (pocket: number): [number, number] => [
    30 + step * (((pocket - 1) % rack.count) + 0.5),
    84 + Math.floor((pocket - 1) / rack.count) * HIGH,
  ];
  return {
    radius,
    scale,
    middle,
    arrow: (pocket, { dx, dy, distance }) => {
      const part = distance > rack.placing_tolerance ? rack.placing_tolerance / distance : 1;
      const [x, y] = middle(pocket);
      return [x + dx * scale * part * larger, y - dy * scale * part * larger];
    },
  };
}
