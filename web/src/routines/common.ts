/** What all routines begin with, and what many share. */
import type { Routine, Setup } from "../api/client";
import type { Choice } from "./kind";

/** mm that a search goes on beyond where the surface is expected, if the probe gives as much */
const BEYOND = 4;

/** A search ends before the probe has given all that it can: with a dead input it would break. */
function beyond(setup: Setup, name: string | null): number {
  const probe = setup.probes.find((entry) => entry.name === name);
  const gives = probe ? Math.min(probe.overtravel_across, probe.overtravel_up) : BEYOND;
  return gives < BEYOND ? gives / 2 : BEYOND;
}

/** In the middle of the travel, on a part whose upper face is a third of the way up. */
export function usual(setup: Setup, name: string, probe: string | null) {
  const { X, Y, Z } = setup.machine.axes;
  return {
    name,
    probe,
    x: (X.least + X.greatest) / 2,
    y: (Y.least + Y.greatest) / 2,
    z: Z.least + (Z.greatest - Z.least) / 4,
    before: 8,
    beyond: beyond(setup, probe),
    depth: 5,
    clearance: 12,
    work_offset: 1,
    readout_x: 0,
    readout_y: 0,
    readout_z: 0,
    place_tolerance: null,
    size_tolerance: null,
    turn_tolerance: null,
  };
}

export const SIDEWAYS: [string, string][] = [
  ["X+", "along X, to the right"],
  ["X-", "along X, to the left"],
  ["Y+", "along Y, to the back"],
  ["Y-", "along Y, to the front"],
];

export const CORNERS: Choice = {
  label: "Corner, from above",
  field: "corner",
  choices: [
    ["left front", "left front"],
    ["right front", "right front"],
    ["left back", "left back"],
    ["right back", "right back"],
  ],
};

export const CORNER_FIELDS = [
  {
    label: "Touches a side",
    field: "touches",
    kind: "count",
  },
  { label: "From the corner", field: "away", kind: "length" },
  { label: "Between the touches", field: "span", kind: "length" },
] as const;

export const CORNER_USUAL = { corner: "left front", touches: 1, away: 15, span: 40, top: true, turn: false } as const;

export const CORNER_SWITCHES: [string, string][] = [
  ["Upper face as well", "top"],
  ["Set the turn", "turn"],
];

export const ACROSS: Choice = {
  label: "Its faces are apart",
  field: "across",
  choices: [
    ["x", "along X"],
    ["y", "along Y"],
  ],
};

export const of = (routine: Routine, field: string): unknown => (routine as unknown as Record<string, unknown>)[field];
