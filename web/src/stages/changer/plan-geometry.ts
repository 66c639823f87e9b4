/** Where things stand in the plan of pockets. */
import type { PocketNow } from "../../drawing/bodies";

const ASLANT: [number, number] = [0.6, 0.6];

/** Whether two neighbours stand so close, in pixels, that not every number has room. */
export function isDense([one, two]: PocketNow[], scale: number): boolean {
  return one !== undefined && two !== undefined && Math.hypot(two.x - one.x, two.y - one.y) * scale < 26;
}

/** Where not every number has room: every fifth of a single row or a disc, in a grid every fifth of its first row alone. */
export function isCounted({ pocket, x, y }: PocketNow, pockets: PocketNow[]): boolean {
  const [one, two] = pockets;
  if (!one || !two) return true;
  const [ux, uy] = unit(two.x - one.x, two.y - one.y);
  const off = Math.abs(ux * (y - one.y) - uy * (x - one.x));
  const grid = pockets.filter((entry) => Math.abs(ux * (entry.y - one.y) - uy * (entry.x - one.x)) < 1);
  const isGrid = pockets.length > grid.length && grid.length > 2 && pockets.length % grid.length === 0;
  return isGrid ? off < 1 && pocket % 5 === 1 : pocket % 5 === 1;
}

/** The way from a pocket to where its number stands: outwards on a disc, off the rows on a rack, each outer row on its own side; between
 * rows aslant, where it is no other's. */
export function labelSide(pockets: PocketNow[], disc: boolean): (pocket: PocketNow) => [number, number] {
  const [one, two] = pockets;
  if (!one || !two) return () => [0, 1];
  if (disc) {
    const [mx, my] = [mean(pockets.map((entry) => entry.x)), mean(pockets.map((entry) => entry.y))];
    return (pocket) => unit(pocket.x - mx, pocket.y - my);
  }
  const [ux, uy] = unit(two.x - one.x, two.y - one.y);
  const across = (entry: PocketNow) => ux * (entry.y - one.y) - uy * (entry.x - one.x);
  const every = pockets.map(across);
  const [least, most] = [Math.min(...every), Math.max(...every)];
  const rows = most - least > 1;
  return (pocket) => {
    const at = across(pocket);
    if (rows && at > least + 1 && at < most - 1) return ASLANT;
    const away = rows ? (at > least + 1 ? 1 : -1) : ux >= 0 ? 1 : -1;
    return [-uy * away, ux * away];
  };
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
