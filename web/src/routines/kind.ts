/** What a kind of routine brings to the interface. */
import type { Kind, Routine, Setup } from "../api/client";

export interface Field {
  label: string;
  field: string;
  kind: Kind;
}

export interface Choice {
  label: string;
  field: string;
  choices: [string, string][];
}

/** A size that is drawn across the feature, about its middle. */
export interface Span {
  field: string;
  axis: "x" | "y";
}

export interface RoutineView {
  kind: Routine["kind"];
  label: string;
  says: string;
  template: (setup: Setup, name: string, probe: string | null) => Routine;
  fields: Field[];
  choices?: Choice[];
  /** yes or no */
  switches?: [string, string][];
  /** whether a side is touched below the upper face */
  deep: boolean;
  spans?: (routine: Routine) => Span[];
}
