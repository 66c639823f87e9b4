/** The edits that can be taken back: kept in the browser, so that a reload does not lose them. */

import { type DocumentState, type Step, useDocument } from "./document";
import { keptAt } from "./drafts";

type Steps = Pick<DocumentState, "done" | "undone">;

/** Edits that can be taken back. */
const MOST = 200;

/** Characters that they may take in the browser's store; beyond it the oldest are kept for this window only. */
const MOST_KEPT = 1_000_000;

/** An edit has been made: nothing can be redone after it. */
export function remember(step: Step) {
  stepped({ done: [...useDocument.getState().done, step].slice(-MOST), undone: [], left: null });
}

/** The edits have changed: they are kept. */
export function stepped(steps: Partial<Steps & Pick<DocumentState, "left">>) {
  useDocument.setState(steps);
  const { slug, done, undone } = useDocument.getState();
  if (!slug) return;
  let kept: Steps = { done, undone };
  let text = JSON.stringify(kept);
  while (text.length > MOST_KEPT) {
    kept = { done: kept.done.slice(Math.ceil(kept.done.length / 2)), undone: [] };
    text = JSON.stringify(kept);
  }
  localStorage.setItem(keptAt("steps", slug), text);
}

export function keptSteps(slug: string): Steps {
  try {
    const { done, undone } = JSON.parse(localStorage.getItem(keptAt("steps", slug)) ?? "") as Steps;
    return { done, undone };
  } catch {
    return { done: [], undone: [] };
  }
}
