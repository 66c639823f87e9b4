/** What a kind of routine brings to the interface. */
import type { ComponentType } from "react";
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
  /** its place among the kinds that are offered */
  order: number;
  label: string;
  says: string;
  template: (setup: Setup, name: string, probe: string | null) => Routine;
  fields: Field[];
  choices?: Choice[];
  /** yes or no */
  switches?: [string, string][];
  /** whether it touches nothing, and needs no probe */
  untouched?: boolean;
  /** whether a side is touched below the upper face */
  deep: boolean;
  /** what is asked of it beside its fields */
  Extra?: ComponentType<{ index: number; routine: Routine }>;
  spans?: (routine: Routine) => Span[];
}
