/** What can be played and proven, by name; each kind of sequence brings how it is called, where it is played and how it is opened. */

import type { AnswerName, Finding, Proof } from "../api/client";
import type { Parts } from "../session/address";
import type { DocumentState } from "../work/document";
import type { Selection } from "../work/selection";

export type Sequence = Proof["sequences"][number]["sequence"];
export type SequenceOf<Kind extends Sequence["kind"]> = Extract<Sequence, { kind: Kind }>;

/** How a sequence is opened: under a fault, at a finding, or at the first one as grave as the worst that a proof found. */
export interface Opening {
  under: string | null;
  finding?: Finding;
  worst?: Finding["severity"] | null;
}

/** What of the work says which sequence is looked at. */
export type Place = Partial<Pick<Selection, "pair" | "measuring" | "fault" | "profile">>;

/** What of the work says which sequence is looked at, and which there are. */
export type Shown = Pick<DocumentState, "document" | "answer"> & Selection;

export interface SequenceView<Of extends Sequence = Sequence> {
  kind: Of["kind"];
  /** "T2 to T9", "measuring T3", "frame corner" */
  name: (of: Of) => string;
  /** The stage on which it is played, and what of the address says which it is there. */
  stage: string;
  address: (of: Of) => Record<string, string>;
  /** The name under which a preview answers it. */
  answer: AnswerName;
  /** The parts of the address that say which one is looked at now, and how it is called. */
  parts: (shown: Shown) => Parts;
  title: (shown: Shown) => string;
  /** Where an address with these parts leads; `gone` gets what is not in the Setup any more. */
  place: (asked: Parts, shown: Shown, gone: (what: string) => void) => Place;
  /** What to do where none is chosen yet. */
  none: string;
  /** Play it on its stage, which answers it. */
  open: (of: Of, opening: Opening) => Promise<void>;
}
