/** Which part of a sheet is shown, and what was measured on it: plain geometry. */
import type { View } from "./projection";

/** The part of a sheet that is shown, in parts of it: its left and upper edge, and how much of its width and height. */
export interface Region {
  x: number;
  y: number;
  size: number;
}

export const WHOLE: Region = { x: 0, y: 0, size: 1 };

/** how many times the sheet can be brought nearer */
const MOST = 40;

const within = (value: number, least: number, most: number) => Math.min(most, Math.max(least, value));

/** `by` times nearer; what is at a place of the sheet (in parts of it) stays where it is seen. */
export function closer(region: Region, by: number, at: readonly [number, number]): Region {
  const size = within(region.size / by, 1 / MOST, 1);
  const along = (low: number, place: number) => within(place - ((place - low) / region.size) * size, 0, 1 - size);
  return { x: along(region.x, at[0]), y: along(region.y, at[1]), size };
}

/** Moved by parts of the sheet, no further than its edges. */
export function moved(region: Region, dx: number, dy: number): Region {
  const { x, y, size } = region;
  return { x: within(x + dx, 0, 1 - size), y: within(y + dy, 0, 1 - size), size };
}

/** The region in which a view fills a sheet of this size, with a little room around it. */
export function filledBy(view: View, width: number, height: number): Region {
  const around = 1.12;
  const size = within(Math.max(view.width / width, view.height / height) * around, 1 / MOST, 1);
  const along = (low: number, span: number, whole: number) => within((low + span / 2) / whole - size / 2, 0, 1 - size);
  return { x: along(view.left, view.width, width), y: along(view.top, view.height, height), size };
}

/** One of a sheet's views: its axes, and where machine coordinates are drawn in it. */
export interface Shown {
  name: string;
  view: View;
  axes: readonly [string, string];
  across: (mm: number) => number;
  up: (mm: number) => number;
}

const inverse = (at: (mm: number) => number) => (px: number) => (px - at(0)) / (at(1) - at(0));

/** The view at a place of the sheet, and the machine coordinates there. */
export function placed(views: Shown[], px: number, py: number): { shown: Shown; at: [number, number] } | null {
  const inside = ({ left, top, width, height }: View) =>
    px >= left - 1 && px <= left + width + 1 && py >= top - 1 && py <= top + height + 1;
  const shown = views.find(({ view }) => inside(view));
  return shown ? { shown, at: [inverse(shown.across)(px), inverse(shown.up)(py)] } : null;
}

/** The nearest of some places along an axis, if it is within so much; else the place itself. */
export function snapped(place: number, places: number[], within: number): number {
  const nearest = places.reduce((best, one) => (Math.abs(one - place) < Math.abs(best - place) ? one : best), Infinity);
  return Math.abs(nearest - place) <= within ? nearest : place;
}
