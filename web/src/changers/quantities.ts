/** The quantities of each part of a changer, in the order of its schedule: name in the document, and kind. */
import type { Kind } from "../api/client";

export type Quantity = [name: string, kind: Kind];

export const ROW: Quantity[] = [
  ["bearing_deg", "angle"],
  ["pitch", "length"],
  ["count", "count"],
  ["rows", "count"],
];

export const HEIGHTS: Quantity[] = [
  ["stored_top_z", "length"],
  ["margin", "length"],
];

export const DEPTHS: Quantity[] = [
  ["pocket_depth", "length"],
  ["park_z", "length"],
];

export const BLOCK: Quantity[] = [
  ["width", "length"],
  ["end", "length"],
  ["height", "length"],
  ["top_below_nose", "length"],
];

export const GRIP: Quantity[] = [
  ["knob_height", "length"],
  ["holder_diameter", "length"],
  ["push_out", "length"],
  ["push_out_allowed", "length"],
  ["slow_distance", "length"],
  ["feed", "feed"],
  ["reach", "length"],
  ["wait", "time"],
];

export const ORIENTATION: Quantity[] = [
  ["angle_deg", "angle"],
  ["tolerance_deg", "angle"],
];

export const DISC: Quantity[] = [
  ["count", "count"],
  ["radius", "length"],
  ["bearing_deg", "angle"],
  ["seconds_per_step", "time"],
];
