/** What can be played and proven, by name; each kind of sequence brings how it is called, where it is played and how it is opened. */
import type { Finding, Proof } from "../api/client";

export type Sequence = Proof["sequences"][number]["sequence"];
export type SequenceOf<Kind extends Sequence["kind"]> = Extract<Sequence, { kind: Kind }>;

/** How a sequence is opened: under a fault, at a finding, or at the first one as grave as the worst that a proof found. */
export interface Opening {
  under: string | null;
  finding?: Finding;
  worst?: Finding["severity"] | null;
}

export interface SequenceView<Of extends Sequence = Sequence> {
  kind: Of["kind"];
  /** "T2 to T9", "measuring T3", "frame corner" */
  name: (of: Of) => string;
  /** The stage on which it is played, and what of the address says which it is there. */
  stage: string;
  address: (of: Of) => Record<string, string>;
  /** Play it on its stage, which answers it. */
  open: (of: Of, opening: Opening) => Promise<void>;
}
