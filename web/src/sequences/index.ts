import type { AnswerName, Finding } from "../api/client";
import { findingPart } from "../findings/part";
import type { Opening, Sequence, SequenceView } from "./sequence";

const found = import.meta.glob<SequenceView>("./kinds/*.ts", { eager: true, import: "default" });
/** By kind; a test adds one. */
export const VIEWS = new Map(Object.values(found).map((view) => [view.kind, view]));

function viewOf(of: Sequence): SequenceView {
  const view = VIEWS.get(of.kind);
  if (!view) throw new Error(`There is no view of a sequence of the kind ${of.kind}.`);
  return view;
}

/** The sequence that a preview answers under this name; undefined: none is played there. */
export const playedAs = (answer: AnswerName) => [...VIEWS.values()].find((view) => view.answer === answer);

export const sequenceName = (of: Sequence) => viewOf(of).name(of);

/** Distinguishes a sequence from all others. */
export const keyOf = (of: Sequence) => JSON.stringify(of, Object.keys(of).sort());

/** The address of the stage that plays a sequence. */
export const stageAddress = (slug: string, of: Sequence) => `/machines/${slug}/${viewOf(of).stage}`;

/** The address at which a sequence is played, at a finding of it. */
export function addressOf(slug: string, of: Sequence, finding: Finding): string {
  const parts = { ...viewOf(of).address(of), finding: findingPart(finding) };
  return `${stageAddress(slug, of)}?${new URLSearchParams(parts)}`;
}

export const openSequence = (of: Sequence, opening: Opening) => viewOf(of).open(of, opening);
