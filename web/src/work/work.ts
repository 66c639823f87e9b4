/** What is known of the machine that is worked on: its document, what follows from it, what is chosen, and what can be done. */
import type {
  Answer,
  AnswerName,
  EditConflict,
  Fault,
  Finding,
  Machine,
  OldRevision,
  Played,
  PreviewIn,
  ReviewSummary,
  Setup,
  Trace,
} from "../api/client";
import type { Adding, Draft, Drafts } from "./drafts";

export type Saving = "saved" | "saving" | "offline" | "signed-out" | "conflict" | "refused";

/** One edit, to be taken back: the quantity by its key ("": all of the document), its values before and after, and when. */
export interface Step {
  key: string;
  before: unknown;
  after: unknown;
  at: string;
  /** the document before and after, where more than the quantity changed */
  whole?: { before: Setup; after: Setup };
}

/** Quantities, by their keys, that undo could not take back: others have changed them since, or they are `gone`. */
export interface Left {
  keys: string[];
  gone?: true;
}

export interface Unsaved {
  base: Setup;
  baseRevision: number;
  document: Setup;
}

export interface Pair {
  from: number;
  to: number;
}

/** A measuring sequence, of which tools, at which setter; a routine; null: the usual one. */
export interface MeasuringRequest {
  sequence: MeasuringName | null;
  tools: number[];
  setter: string | null;
  routine: string | null;
}

/** Set by hand after so many blocks: a parameter's value, or an input made (1) or idle (0). */
export type ByHand = NonNullable<PreviewIn["by_hand"]>[number];

export interface Work {
  slug: string | null;
  /** what the stage shows of a preview */
  stage: AnswerName;
  machine: Machine | null;
  missing: string | null;
  /** the earlier revision that is looked at in place of the newest; null: none */
  looking: Pick<OldRevision, "number" | "author" | "changed"> | null;
  document: Setup | null;
  base: Setup | null;
  baseRevision: number;
  answer: Answer | null;
  /** what the answer is the answer to, as `asked` tells it */
  answered: readonly unknown[];
  /** entries, edits and undoings that are on the way */
  entering: number;
  saving: Saving;
  trouble: string | null;
  conflict: EditConflict | null;
  undone: Step[];
  done: Step[];
  /** what undo could not take back, for others have changed it since */
  left: Left | null;
  drafts: Drafts;
  pair: Pair | null;
  picked: number | null;
  profile: string | null;
  /** the fault of the proof that the exchange is played under */
  fault: string | null;
  /** a program of the user's own that is played in place of the written one */
  imported: { file: string; text: string; purpose?: ReviewSummary["purpose"] } | null;
  /** the measuring sequence that is looked at */
  measuring: MeasuringRequest;
  /** what is set by hand while it is stepped */
  byHand: ByHand[];
  focus: string | null;
  time: number;
  block: number;
  playing: boolean;
  chosen: Finding | null;

  open: (slug: string) => Promise<void>;
  close: () => void;
  look: (stage: AnswerName) => Promise<void>;
  /** look at an earlier revision on every stage, or at the newest again (null); whether that is there */
  lookBack: (number: number | null) => Promise<boolean>;
  edit: (pointer: string, value: unknown | ((before: never) => unknown)) => Promise<Fault[]>;
  /** add something whose numbers the server chooses; what it is called there, and what else was made for it */
  add: (adding: Adding) => Promise<{ faults: Fault[]; name: string; says: string[] }>;
  undo: () => Promise<void>;
  redo: () => Promise<void>;
  /** keep what was typed until it can be sent */
  keep: (pointer: string, draft: Omit<Draft, "key">) => void;
  /** forget what was typed and not sent */
  drop: (pointer: string) => void;
  forget: (key: string) => void;
  /** there is no connection, or the session has ended */
  lose: (signedOut: boolean) => void;
  /** go where an address leads */
  visit: (place: Partial<Pick<Work, "pair" | "measuring" | "fault" | "profile">>) => Promise<void>;
  choose: (pair: Pair | null, finding?: Finding, fault?: string | null) => Promise<void>;
  pick: (tool: number) => void;
  show: (profile: string) => Promise<void>;
  measure: (wanted: Partial<MeasuringRequest>, fault?: string | null) => Promise<void>;
  /** play on with these set by hand, from where it is */
  setByHand: (byHand: ByHand[]) => Promise<void>;
  /** play a program of the user's own in place of the written one; null: the written one */
  importProgram: (imported: Work["imported"]) => Promise<void>;
  /** play without a fault again */
  undisturbed: () => Promise<void>;
  setFocus: (pointer: string | null) => void;
  seek: (time: number) => void;
  step: (by: number) => void;
  goTo: (finding: Finding) => void;
  play: (playing: boolean) => void;
  settle: (mine: boolean) => Promise<void>;
  flush: () => Promise<void>;
  refresh: () => Promise<void>;
  adopt: (machine: Machine) => Promise<void>;
  restored: (machine: Machine) => Promise<void>;
}

export type MeasuringName = NonNullable<PreviewIn["sequence"]>;

export type SetWork = (part: Partial<Work>) => void;
export type GetWork = () => Work;

export function traceOf(work: Pick<Work, "answer">): Trace | null {
  return playedOf(work)?.trace ?? null;
}

/** The sequence that the stage shows; null: none. */
export function playedOf(work: Pick<Work, "answer">): Played | null {
  const { answer } = work;
  return answer?.played ? ((answer[answer.played as keyof Answer] as Played | null) ?? null) : null;
}
