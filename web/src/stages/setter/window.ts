/** Where things stand in the window of a setter: machine Z up the sheet, columns for what is compared. */

export interface Window {
  scale: number;
  top: number;
  bottom: number;
  atZ: (z: number) => number;
  /** the middle of a column, from the left */
  column: (index: number) => number;
}

export interface Heights {
  /** the lowest and the highest that is drawn, machine Z */
  low: number;
  high: number;
}

const LEFT = 190;
const RIGHT = 150;

/** `widest`: of what stands in a column, mm; it is to scale like the heights. */
export function windowOf(heights: Heights, columns: number, widest: number, room: { width: number; height: number }) {
  const [top, bottom] = [30, room.height - 72];
  const across = Math.max(120, room.width - LEFT - RIGHT);
  const step = across / columns;
  const scale = Math.max(0.05, Math.min((bottom - top) / (heights.high - heights.low), (step * 0.86) / widest));
  const spare = bottom - top - (heights.high - heights.low) * scale;
  const atZ = (z: number) => top + spare / 2 + (heights.high - z) * scale;
  const column = (index: number) => LEFT + step * (index + 0.5);
  return { scale, top, bottom, atZ, column } satisfies Window;
}
