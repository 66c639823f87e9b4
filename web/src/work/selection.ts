/** What is looked at: the stage, the sequence that it plays and how, and the quantity that has the focus. */
import { create } from "zustand";
import type { AnswerName, PreviewIn, ReviewSummary } from "../api/client";

export interface Pair {
  from: number;
  to: number;
}

export type MeasuringName = NonNullable<PreviewIn["sequence"]>;

/** A measuring sequence, of which tools, at which setter; a routine; null: the usual one. */
export interface MeasuringRequest {
  sequence: MeasuringName | null;
  tools: number[];
  setter: string | null;
  routine: string | null;
}

/** Set by hand after so many blocks: a parameter's value, or an input made (1) or idle (0). */
export type ByHand = NonNullable<PreviewIn["by_hand"]>[number];

export interface Selection {
  /** what the stage shows of a preview */
  stage: AnswerName;
  pair: Pair | null;
  /** the first tool of an exchange, while the second is awaited */
  picked: number | null;
  profile: string | null;
  /** the fault of the proof that the sequence is played under */
  fault: string | null;
  /** a program of the user's own that is played in place of the written one */
  imported: { file: string; text: string; purpose?: ReviewSummary["purpose"] } | null;
  /** the measuring sequence that is looked at */
  measuring: MeasuringRequest;
  /** what is set by hand while it is stepped */
  byHand: ByHand[];
  focus: string | null;
}

/** Nothing is chosen; the stage stays. */
export const NO_SELECTION: Omit<Selection, "stage"> = {
  pair: null,
  picked: null,
  profile: null,
  fault: null,
  imported: null,
  measuring: { sequence: null, tools: [], setter: null, routine: null },
  byHand: [],
  focus: null,
};

export const useSelection = create<Selection>(() => ({ ...NO_SELECTION, stage: "exchange" }));

export const setFocus = (focus: string | null) => useSelection.setState({ focus });
