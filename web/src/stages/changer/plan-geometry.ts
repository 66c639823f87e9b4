/** Where things stand in the plan of pockets. */
import type { PocketNow } from "../../drawing/bodies";

/** Whether two neighbours stand so close, in pixels, that not every number has room. */
export function isDense([one, two]: PocketNow[], scale: number): boolean {
  return one !== undefined && two !== undefined && Math.hypot(two.x - one.x, two.y - one.y) * scale < 26;
}

/** The way from a pocket to where its number stands: outwards on a disc, off the rows on a rack. */
export function labelSide(pockets: PocketNow[], disc: boolean): (pocket: PocketNow) => [number, number] {
  const [one, two] = pockets;
  if (!one || !two) return () => [0, 1];
  if (disc) {
    const [mx, my] = [mean(pockets.map((entry) => entry.x)), mean(pockets.map((entry) => entry.y))];
    return (pocket) => unit(pocket.x - mx, pocket.y - my);
  }
  const [ux, uy] = unit(two.x - one.x, two.y - one.y);
  const across = (entry: PocketNow) => ux * (entry.y - one.y) - uy * (entry.x - one.x);
  const next = pockets.find((entry) => Math.abs(across(entry)) > 1);
  const away = next ? -Math.sign(across(next)) : ux >= 0 ? 1 : -1;
  return () => [-uy * away, ux * away];
}

function mean(values: number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}

function unit(x: number, y: number): [number, number] {
  const length = Math.hypot(x, y) || 1;
  return [x / length, y / length];
}

export function hexagon(x: number, y: number, r: number): string {
  return [0, 1, 2, 3, 4, 5]
    .map((k) => `${x + r * Math.cos((k * Math.PI) / 3)},${y + r * Math.sin((k * Math.PI) / 3)}`)
    .join(" ");
}
