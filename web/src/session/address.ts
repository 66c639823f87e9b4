/** Where one is, in the address: behind machine and stage stands what is looked at, so that a link, a reload and the way back find it. */
import { useCallback, useEffect, useRef, useSyncExternalStore } from "react";
import { create } from "zustand";

/** Parts of the address by name; null: it is not in it. */
export type Parts = Record<string, string | null>;

const listeners = new Set<() => void>();

function subscribe(listener: () => void) {
  listeners.add(listener);
  window.addEventListener("popstate", listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener("popstate", listener);
  };
}

/** What stands behind the question mark now. */
export const useSearch = () => useSyncExternalStore(subscribe, () => window.location.search);

/** The address with these parts changed. */
export function addressWith(parts: Parts): string {
  const search = new URLSearchParams(window.location.search);
  for (const [name, value] of Object.entries(parts)) value === null ? search.delete(name) : search.set(name, value);
  const text = search.toString();
  return window.location.pathname + (text && `?${text}`);
}

/** Put parts into the address; `page`: the way back leads to what was there before. */
export function note(parts: Parts, how: "page" | "same") {
  const to = addressWith(parts);
  if (to === window.location.pathname + window.location.search) return;
  if (how === "page") window.history.pushState(window.history.state, "", to);
  else window.history.replaceState(window.history.state, "", to);
  for (const listener of listeners) listener();
}

/** What a link led to and is not there any more. */
export const useGone = create<{ gone: string[] }>(() => ({ gone: [] }));

export function tellGone(text: string) {
  const { gone } = useGone.getState();
  if (!gone.includes(text)) useGone.setState({ gone: [...gone, text] });
}

/** One of several that stands in the address; the usual one does not. While there are no `names` yet, it is taken as it stands there. */
export function useInAddress<Name extends string>(
  part: string,
  names: readonly Name[],
  usual: Name,
): [Name, (name: Name) => void] {
  const asked = new URLSearchParams(useSearch()).get(part);
  const known = names.find((name) => name === asked) ?? (names.length || !asked ? undefined : (asked as Name));
  const unknown = asked !== null && known === undefined && names.length > 0;
  useEffect(() => {
    if (!unknown) return;
    tellGone(`There is no ${part} “${asked}” here.`);
    note({ [part]: null }, "same");
  }, [part, unknown, asked]);
  const go = useCallback((name: Name) => note({ [part]: name === usual ? null : name }, "page"), [part, usual]);
  return [known ?? usual, go];
}

interface Known {
  asked: string | null | undefined;
  value: string | null;
}

/** What is to be done where the address asks for one thing and the application shows another: the one that has changed counts. */
export function settled(
  known: Known,
  asked: string | null,
  value: string | null,
): { act: "apply" | "write" | "nothing"; how: "page" | "same"; known: Known } {
  if (asked !== known.asked && asked !== null && asked !== value)
    return { act: "apply", how: "same", known: { asked, value: asked } };
  if (asked === value) return { act: "nothing", how: "same", known: { asked, value } };
  const changed = asked === known.asked && value !== known.value;
  if (!changed && asked !== null) return { act: "nothing", how: "same", known };
  return { act: "write", how: changed && known.value !== null ? "page" : "same", known: { asked: value, value } };
}

/** Keep a choice of the application and its parts of the address together; `apply` goes where the address leads, and
 * tells whether that is there. Until it is `ready` the address waits. */
export function useParts(values: Parts, ready: boolean, apply: (asked: Parts) => boolean) {
  const search = useSearch();
  const known = useRef<Known>({ asked: undefined, value: null });
  const doing = useRef(apply);
  doing.current = apply;
  const names = Object.keys(values).join();
  const params = new URLSearchParams(search);
  const here = Object.fromEntries(Object.keys(values).map((name) => [name, params.get(name)])) as Parts;
  const asked = Object.values(here).some((value) => value !== null) ? JSON.stringify(here) : null;
  const value = Object.values(values).some((entry) => entry !== null) ? JSON.stringify(values) : null;
  useEffect(() => {
    if (!ready) return;
    const found = settled(known.current, asked, value);
    known.current = found.known;
    if (found.act === "apply" && asked && doing.current(JSON.parse(asked) as Parts)) return;
    if (found.act === "nothing") return;
    known.current = { asked: value, value };
    note(value ? (JSON.parse(value) as Parts) : cleared(names.split(",")), found.how);
  }, [ready, asked, value, names]);
}

const cleared = (names: string[]) => Object.fromEntries(names.map((name) => [name, null])) as Parts;

/** A choice among what the Setup has, by the part of the address that names it. */
export function usePart(part: string, value: string | null, ready: boolean, choose: (asked: string) => boolean) {
  useParts({ [part]: value }, ready, (asked) => {
    const name = asked[part] ?? "";
    if (choose(name)) return true;
    if (new URLSearchParams(window.location.search).get(part) !== name) return false; // it was left in the meantime
    tellGone(
      `${part === "tool" ? `T${name}` : `The ${part} “${name}”`} ${part === "result" ? "was not kept for this routine" : "is not in the Setup any more"}.`,
    );
    return false;
  });
}
