/** Orthographic views that share their axes: from machine millimetres to the pixels of a sheet. */

import type { Shown } from "./zoom";

export interface Bounds {
  x: [number, number];
  y: [number, number];
  z: [number, number];
}

export interface View {
  left: number;
  top: number;
  width: number;
  height: number;
}

export interface Projection {
  /** pixels of one millimetre */
  scale: number;
  bounds: Bounds;
  plan: View;
  front: View;
  side: View;
  atX: (mm: number) => number;
  /** Y in the plan: up the sheet */
  atY: (mm: number) => number;
  /** Z in front and side view */
  atZ: (mm: number) => number;
  /** Y in the side view: to the right */
  atS: (mm: number) => number;
}

export interface Room {
  width: number;
  height: number;
  /** pixels kept free: around, between plan and front view, between front and side view */
  margin: { left: number; top: number; right: number; bottom: number };
  between: number;
  beside: number;
}

const span = ([low, high]: [number, number]) => Math.max(1e-6, high - low);

/** The plan above, the front view below it, the side view beside, at the largest scale at which all fit. */
export function project(bounds: Bounds, room: Room): Projection {
  const { margin, between, beside } = room;
  const [wide, deep, high] = [span(bounds.x), span(bounds.y), span(bounds.z)];
  const across = Math.max(40, room.width - margin.left - margin.right - beside);
  const down = Math.max(40, room.height - margin.top - margin.bottom - between);
  const scale = Math.min(across / (wide + deep), down / (deep + high));
  const left = margin.left + Math.max(0, (across - (wide + deep) * scale) / 2);
  const top = margin.top + Math.max(0, (down - (deep + high) * scale) / 2);
  const plan = { left, top, width: wide * scale, height: deep * scale };
  const front = { left, top: top + plan.height + between, width: plan.width, height: high * scale };
  const side = { left: left + plan.width + beside, top: front.top, width: deep * scale, height: front.height };
  return {
    scale,
    bounds,
    plan,
    front,
    side,
    atX: (mm) => left + (mm - bounds.x[0]) * scale,
    atY: (mm) => top + (bounds.y[1] - mm) * scale,
    atZ: (mm) => front.top + (bounds.z[1] - mm) * scale,
    atS: (mm) => side.left + (mm - bounds.y[0]) * scale,
  };
}

/** Where a place is drawn in the plan, and in the front and the side view. */
export function viewsOf(to: Projection) {
  type At = readonly [number, number, number];
  const plan = { view: to.plan, at: ([x, y]: At): [number, number] => [to.atX(x), to.atY(y)] };
  const front = { view: to.front, at: ([x, , z]: At): [number, number] => [to.atX(x), to.atZ(z)] };
  const side = { view: to.side, at: ([, y, z]: At): [number, number] => [to.atS(y), to.atZ(z)] };
  return { plan, upright: [front, side] };
}

/** The three views, to be measured in. */
export function shownViews(to: Projection): Shown[] {
  return [
    { name: "Plan", view: to.plan, axes: ["X", "Y"], across: to.atX, up: to.atY },
    { name: "Front", view: to.front, axes: ["X", "Z"], across: to.atX, up: to.atZ },
    { name: "Side", view: to.side, axes: ["Y", "Z"], across: to.atS, up: to.atZ },
  ];
}

/** The scale as a drawing states it, from pixels of 96 to the inch: "1 : 4". */
export function statedScale(scale: number): string {
  const ratio = 96 / 25.4 / scale;
  if (ratio < 1) return `${(1 / ratio).toFixed(1)} : 1`;
  return `1 : ${ratio < 10 ? ratio.toFixed(1) : Math.round(ratio)}`;
}

/**
 * Texts along a line that must not stand on each other: moved apart to at least `gap`, in their order; none beyond `most`
 * as long as there is room above.
 */
export function apart(places: number[], gap: number, most = Number.POSITIVE_INFINITY): number[] {
  const order = places.map((place, index) => ({ place, index })).sort((a, b) => a.place - b.place);
  let last = Number.NEGATIVE_INFINITY;
  const moved: number[] = [...places];
  for (const entry of order) {
    last = Math.max(entry.place, last + gap);
    moved[entry.index] = last;
  }
  let limit = most;
  for (const entry of order.reverse()) {
    moved[entry.index] = Math.min(moved[entry.index] as number, limit);
    limit = (moved[entry.index] as number) - gap;
  }
  return moved;
}
