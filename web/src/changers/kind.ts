/** What a style of changer brings to the interface. */
import type { ComponentType } from "react";
import type { Changer, Derived } from "../api/client";
import type { Projection } from "../drawing/projection";

export const RUNGS = ["park", "carry", "empty", "hover", "couple"] as const;

export type Rung = (typeof RUNGS)[number];

/** A height that is entered: its name on the sheet, its label, where it stands in the document, its value, and the levels between
 * which it is drawn. */
export interface HeightRow {
  name: string;
  label: string;
  pointer: string;
  value: number;
  from: number;
  to: number;
}

/** What has to be on the sheet beside the bodies, mm. */
export interface Extent {
  x: number[];
  y: number[];
  z: number[];
}

export interface StyleView<C extends Changer = Changer> {
  style: C["style"];
  name: string;
  says: string;
  /** What hangs in a pocket. */
  holds: "nut" | "holder";
  /** Whether a tool needs no pocket to be asked for. */
  anyTool: boolean;
  rungs: readonly Rung[];
  /** What the one rung is called where there is one only. */
  rungName?: string;
  Schedule: ComponentType<{ changer: C }>;
  /** The dimensions of the plan. */
  Dimensions: ComponentType<{ changer: C; derived: Derived; to: Projection }>;
  /** What is drawn in the plan beside bodies and pockets. */
  Mark?: ComponentType<{ changer: C; to: Projection }>;
  heights: (changer: C, derived: Derived) => HeightRow[];
  extent?: (changer: C, derived: Derived) => Extent;
}
