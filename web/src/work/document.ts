/**
 * The document of the machine that is worked on, what follows from it, and what the server has of it.
 *
 * An edit is previewed first; only a document without faults becomes the document. It is saved at once, one request at a
 * time, and kept in the browser until the server has acknowledged it, so that neither a reload nor a lost connection nor
 * an ended session loses a number. What is done with it is in the modules beside: opening, editing, saving, resending.
 */
import { create } from "zustand";
import type { Answer, EditConflict, Machine, OldRevision, Played, Setup, Trace } from "../api/client";
import type { Drafts } from "./drafts";

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

export interface DocumentState {
  slug: string | null;
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
}

/** No machine is worked on; what is on its way ends by itself. */
export const NO_DOCUMENT: Omit<DocumentState, "entering"> = {
  slug: null,
  machine: null,
  missing: null,
  looking: null,
  document: null,
  base: null,
  baseRevision: 0,
  answer: null,
  answered: [],
  saving: "saved",
  trouble: null,
  conflict: null,
  undone: [],
  done: [],
  left: null,
  drafts: {},
};

export const useDocument = create<DocumentState>(() => ({ ...NO_DOCUMENT, entering: 0 }));

/** A part of the Setup; the whole without a selector. */
export function useSetup<Part = Setup | null>(select?: (setup: Setup | null) => Part): Part {
  return useDocument(({ document }) => (select ? select(document) : (document as Part)));
}

/** A part of what follows from the Setup. */
export function usePreview<Part = Answer | null>(select?: (answer: Answer | null) => Part): Part {
  return useDocument(({ answer }) => (select ? select(answer) : (answer as Part)));
}

/** A part of what the server keeps of the machine beside its Setup. */
export function useMachine<Part = Machine | null>(select?: (machine: Machine | null) => Part): Part {
  return useDocument(({ machine }) => (select ? select(machine) : (machine as Part)));
}

export const useSlug = () => useDocument(({ slug }) => slug);

/** The sequence that the stage shows; null: none. */
export function playedOf({ answer }: Pick<DocumentState, "answer">): Played | null {
  return answer?.played ? ((answer[answer.played as keyof Answer] as Played | null) ?? null) : null;
}

export function traceOf(work: Pick<DocumentState, "answer">): Trace | null {
  return playedOf(work)?.trace ?? null;
}

/** The sequence that the stage shows, its trace, and how the document is saved. */
export const usePlayed = () => useDocument(playedOf);
export const useTrace = () => useDocument(traceOf);
export const useSaving = () => useDocument(({ saving }) => saving);

/** The same at this moment, for what happens at a key or a click. */
export const playedNow = () => playedOf(useDocument.getState());
export const traceNow = () => traceOf(useDocument.getState());
export const previewNow = () => useDocument.getState().answer;
export const setupNow = () => useDocument.getState().document;
export const slugNow = () => useDocument.getState().slug;

/** The session has ended, or there is no connection: `resending` tries again. */
export function lose(signedOut: boolean) {
  useDocument.setState({ saving: signedOut ? "signed-out" : "offline" });
}
