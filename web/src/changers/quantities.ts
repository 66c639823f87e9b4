/** The quantities of each part of a changer: label, name in the document, kind, and what one should know where it is asked. */
import type { Kind } from "../api/client";

export type Quantity = [label: string, name: string, kind: Kind, hint?: string];

export const ROW: Quantity[] = [
  ["Bearing", "bearing_deg", "angle", "The way from pocket 1 to the next, counter-clockwise from +X."],
  ["Pitch", "pitch", "length", "From one pocket's axis to the next."],
  ["Pockets in a row", "count", "count"],
  ["Rows", "rows", "count", "Numbered along the bearing, then row by row; rows step at bearing + 90°."],
];

export const HEIGHTS: Quantity[] = [
  ["Stored top", "stored_top_z", "length", "Machine Z at which the bare nose would touch the highest stored thing."],
  ["Margin", "margin", "length", "10 to 20 mm is usual on a router."],
];

export const DEPTHS: Quantity[] = [
  ["Pocket depth", "pocket_depth", "length", "Free depth below a coupled nose."],
  ["Park", "park_z", "length", "Fully clear of everything; near the top of travel."],
];

export const BLOCK: Quantity[] = [
  ["Block width", "width", "length"],
  ["Beyond end pockets", "end", "length"],
  ["Block height", "height", "length"],
  ["Block top below nose", "top_below_nose", "length", "From a coupled nose down to the block's top."],
];

export const GRIP: Quantity[] = [
  [
    "Knob above gauge line",
    "knob_height",
    "length",
    "How far taper and knob stand above the gauge line: the spindle must rise by more.",
  ],
  ["Holder diameter", "holder_diameter", "length", "Of its flange."],
  ["Opening pushes out", "push_out", "length", "0.3 to 1 mm is usual."],
  [
    "The pocket allows",
    "push_out_allowed",
    "length",
    "A rigid pocket must give by as much as opening pushes the tool out.",
  ],
  ["Slow over the last", "slow_distance", "length", "Before the gauge line, coming down onto a tool or with one."],
  ["Feed over it", "feed", "feed"],
  ["Grip reaches", "reach", "length", "How far off the gauge line the grip still takes a tool."],
  ["Longest wait", "wait", "time", "For an input; then the program stops with a message."],
];

export const ORIENTATION: Quantity[] = [
  ["Angle", "angle_deg", "angle", "At which the spindle stands when a tool is handed over."],
  ["Tolerance of the angle", "tolerance_deg", "angle", "1 to 2° on routers, 0.5 to 1° on machining centres."],
];

export const DISC: Quantity[] = [
  ["Pockets", "count", "count"],
  ["Radius", "radius", "length", "Of the circle of the pockets' axes."],
  ["Bearing of the disc", "bearing_deg", "angle", "From the disc's middle to the exchange place."],
  ["Time of one step", "seconds_per_step", "time", "From one pocket to the next."],
];
