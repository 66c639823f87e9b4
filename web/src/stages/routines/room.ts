/** A plan above a front view that shares its X, at one scale: from machine millimetres to pixels. */
import type { Aim, Body } from "../../api/client";
import type { Shown } from "../../drawing/zoom";

export interface Room {
  scale: number;
  x: [number, number];
  y: [number, number];
  z: [number, number];
  planTop: number;
  planBottom: number;
  frontTop: number;
  frontBottom: number;
  atX: (mm: number) => number;
  /** up the plan */
  atY: (mm: number) => number;
  /** up the front view */
  atZ: (mm: number) => number;
}

type Range = [number, number];

const around = (values: number[], by: number): Range => [Math.min(...values) - by, Math.max(...values) + by];

/** What is drawn: the touches with some room around them, and from below the deepest of them up to the clearance. */
export function bounds(aims: Aim[], place: { x: number; y: number; z: number }, clear: number, tip: number) {
  const places = aims.flatMap((aim) => [aim.begins, aim.meets]);
  const by = Math.max(10, 3 * tip);
  const x = around([place.x, ...places.map((at) => at.x)], by);
  const y = around([place.y, ...places.map((at) => at.y)], by);
  const low = Math.min(place.z, ...places.map((at) => at.z));
  const high = Math.max(place.z, clear, ...places.map((at) => at.z));
  return { x, y, z: [low - by / 2, high + by] as Range };
}

const LEFT = 118;
const RIGHT = 96;
const TOP = 46;
const BETWEEN = 58;
const BOTTOM = 40;

export function roomOf(found: { x: Range; y: Range; z: Range }, size: { width: number; height: number }): Room {
  const [wide, deep, high] = [found.x, found.y, found.z].map(([low, top]) => Math.max(1, top - low)) as [
    number,
    number,
    number,
  ];
  const across = Math.max(60, size.width - LEFT - RIGHT);
  const down = Math.max(60, size.height - TOP - BETWEEN - BOTTOM);
  const scale = Math.min(across / wide, down / (deep + high));
  const left = LEFT + (across - wide * scale) / 2;
  const planTop = TOP + Math.max(0, (down - (deep + high) * scale) / 2);
  const planBottom = planTop + deep * scale;
  const frontTop = planBottom + BETWEEN;
  return {
    scale,
    ...found,
    planTop,
    planBottom,
    frontTop,
    frontBottom: frontTop + high * scale,
    atX: (mm) => left + (mm - found.x[0]) * scale,
    atY: (mm) => planTop + (found.y[1] - mm) * scale,
    atZ: (mm) => frontTop + (found.z[1] - mm) * scale,
  };
}

function rooms(to: Room) {
  const [left, width] = [to.atX(to.x[0]), (to.x[1] - to.x[0]) * to.scale];
  const plan = { left, width, top: to.planTop, height: to.planBottom - to.planTop };
  const front = { left, width, top: to.frontTop, height: to.frontBottom - to.frontTop };
  return { plan, front };
}

/** Both views, to be measured in. */
export function shownViews(to: Room): Shown[] {
  const { plan, front } = rooms(to);
  return [
    { name: "Plan", view: plan, axes: ["X", "Y"], across: to.atX, up: to.atY },
    { name: "Front", view: front, axes: ["X", "Z"], across: to.atX, up: to.atZ },
  ];
}

/** Where a place is drawn in the plan and in the front view. */
export function viewsOf(to: Room) {
  type At = readonly [number, number, number];
  const { plan, front } = rooms(to);
  return {
    plan: { view: plan, at: ([x, y]: At): [number, number] => [to.atX(x), to.atY(y)] },
    upright: [{ view: front, at: ([x, , z]: At): [number, number] => [to.atX(x), to.atZ(z)] }],
  };
}

/** Whether a body is a box. */
export const isBox = (body: Body): body is Extract<Body, { half_x: number }> => "half_x" in body;

/** Whether several touches begin at one place: inside a feature. */
export const isInside = (aim: Aim, aims: Aim[]): boolean =>
  aims.filter(({ begins }) => Math.hypot(begins.x - aim.begins.x, begins.y - aim.begins.y) < 1e-6).length > 1;

/** Where the number of a touch stands, pixels: beyond where its search begins; inside a feature between that and where it
 * touches, or where there is no room behind its wall. */
export function numberAt(
  aim: Aim,
  tip: number,
  to: Pick<Room, "atX" | "atY" | "scale">,
  inside = false,
): [number, number] {
  const { x: wx, y: wy, z: wz } = aim.way;
  const by = tip * to.scale + 13;
  const [mx, my] = [to.atX(aim.meets.x), to.atY(aim.meets.y)];
  if (wz < -0.5) return [mx + by, my - by];
  const far = Math.hypot(aim.meets.x - aim.begins.x, aim.meets.y - aim.begins.y) * to.scale;
  if (inside && far < 3 * by) return [mx + wx * by, my - wy * by];
  return inside || far > 4 * by
    ? [mx - wx * by, my + wy * by]
    : [to.atX(aim.begins.x) - wx * by, to.atY(aim.begins.y) + wy * by];
}
