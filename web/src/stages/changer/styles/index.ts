/** The styles of changer, a folder each: how its quantities are asked for and what is drawn of it. None is known by name here. */
import type { ComponentType } from "react";
import type { Changer, Derived, Style } from "../../../api/client";
import type { Projection } from "../../../drawing/projection";
import { useWork } from "../../../work/store";

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
  /** How far an arm goes down, mm. */
  stroke?: (changer: C) => number;
}

const found = import.meta.glob<StyleView>("./*/index.tsx", { eager: true, import: "default" });

export const STYLES = Object.fromEntries(Object.values(found).map((view) => [view.style, view])) as Record<
  Style,
  StyleView
>;

/** The view of a changer's style. */
export function viewOf(changer: Changer | null | undefined): StyleView | undefined {
  return changer ? STYLES[changer.style] : undefined;
}

/** The view of the machine's changer. */
export function useStyle(): StyleView | undefined {
  return useWork((work) => viewOf(work.document?.changer));
}
