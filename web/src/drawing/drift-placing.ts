/** Where the points of a drift chart stand: evenly from left to right, to one scale up the sheet. */

const LEFT = 84;
const [TOP, BOTTOM] = [14, 18];
const LEAST = 0.02;
/** mm that the chart shows at the least: less is no drift to look at */

export function drift(values: number[], room: { width: number; height: number }) {
  const middle = (Math.max(...values) + Math.min(...values)) / 2;
  const half = Math.max(LEAST / 2, (Math.max(...values) - Math.min(...values)) / 2);
  const tall = room.height - TOP - BOTTOM;
  const y = (value: number) => TOP + ((middle + half - value) / (2 * half)) * tall;
  const step = (room.width - LEFT - 16) / Math.max(1, values.length - 1);
  return {
    points: values.map((value, at): [number, number] => [LEFT + step * (values.length > 1 ? at : 0), y(value)]),
    ticks: values.length ? [middle + half, middle, middle - half].map((value) => ({ y: y(value), value })) : [],
  };
}
