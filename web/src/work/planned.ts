/** Numbers that nobody has entered yet: what something that was added begins with. */
import type { Setup } from "../api/client";
import { keyed, located, read } from "./pointer";
import { useVocabulary } from "./vocabulary";

/** Whether nobody has entered the quantity yet. */
export function isPlanned(document: Setup | null, pointer: string): boolean {
  if (!document?.planned?.length) return false;
  const key = keyed(document, pointer, useVocabulary.getState().keys);
  return document.planned.some((entry) => entry.where === key);
}

/** A document after an edit: what was entered is planned no more, nor what is another number now, or is gone. */
export function entered(before: Setup, after: Setup, pointer: string): Setup {
  if (!after.planned?.length) return after;
  const { keys } = useVocabulary.getState();
  const valueAt = (document: Setup, key: string) => {
    const place = located(document, key, keys);
    return place === null ? undefined : read(document, place);
  };
  const taken = keyed(before, pointer, keys);
  const planned = after.planned.filter(({ where }) => {
    const value = valueAt(after, where);
    return where !== taken && value !== undefined && value === valueAt(before, where);
  });
  return planned.length === after.planned.length ? after : { ...after, planned };
}
