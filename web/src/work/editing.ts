/** Edits, their undoing, and what was typed and can't be sent. */
import { client, type Fault, type Setup } from "../api/client";
import { asked } from "./adding";
import { ask, cursor, found, isCurrent, isNewest, lost, nextTurn, preview, Unanswered } from "./asking";
import { type Adding, type Drafts, keepDrafts } from "./drafts";
import { entered, isPlanned } from "./planned";
import { keyed, located, parts, read, write } from "./pointer";
import { isFlushing, LOST, unsavedKey } from "./saving";
import { remember, stepped } from "./undoing";
import { NO_CONNECTION, NO_SESSION } from "./unsent";
import { useVocabulary } from "./vocabulary";
import type { GetWork, SetWork, Step, Unsaved, Work } from "./work";

let edits: Promise<unknown> = Promise.resolve();

/** One after the other: what an edit begins from is what the one before it has left. */
function inTurn<Result>(set: SetWork, get: GetWork, run: () => Promise<Result>): Promise<Result> {
  const result = edits.then(run, run);
  edits = result;
  return entering(set, get, result);
}

/** Until this has ended, no answer is that of what was entered. */
export function entering<Result>(set: SetWork, get: GetWork, work: Promise<Result>): Promise<Result> {
  const count = (by: number) => set({ entering: get().entering + by });
  count(1);
  return work.finally(() => count(-1));
}

export function editing(
  set: SetWork,
  get: GetWork,
): Pick<Work, "edit" | "add" | "undo" | "redo" | "keep" | "drop" | "forget"> {
  return {
    edit(pointer, wanted) {
      const run = async (): Promise<Fault[]> => {
        const { document, looking } = get();
        if (looking)
          return [
            { where: "", what: `This is revision ${looking.number}, as it was. Go back to the newest to change it.` },
          ];
        if (!document) return [];
        const before = read(document, pointer);
        const listed = typeof wanted === "function";
        const kept = listed ? get().drafts[keyed(document, pointer, useVocabulary.getState().keys)] : undefined;
        const from = kept && "base" in kept ? kept.value : before; // what was added before it, and not sent yet, stays
        const value = listed ? (wanted as (before: unknown) => unknown)(from) : wanted;
        if (JSON.stringify(before) === JSON.stringify(value) && !isPlanned(document, pointer)) return [];
        if (isKey(pointer) && (typeof value === "number" || typeof value === "string"))
          return (await adds(set, get, { what: "rename", body: { where: pointer, value } })).faults;
        const after = entered(document, write(document, pointer, value), pointer);
        const faults = await take(set, get, after);
        if (faults[0]?.where === LOST)
          get().keep(pointer, listed ? { value, base: kept && "base" in kept ? kept.base : before } : { value });
        if (!faults.length) {
          get().drop(pointer);
          const key = keyed(document, pointer, useVocabulary.getState().keys);
          const whole = after.planned === document.planned ? undefined : { before: document, after };
          remember(set, get, { key, before, after: value, at: new Date().toISOString(), whole });
        }
        return faults;
      };
      return inTurn(set, get, run);
    },

    add: (adding) => inTurn(set, get, () => adds(set, get, adding)),

    undo: () =>
      inTurn(set, get, async () => {
        const step = get().done.at(-1);
        const focus = step && (await takeBack(set, get, step, "after", "before"));
        if (step && focus !== undefined)
          stepped(set, get, { done: get().done.slice(0, -1), undone: [...get().undone, step], focus });
      }),

    redo: () =>
      inTurn(set, get, async () => {
        const step = get().undone.at(-1);
        const focus = step && (await takeBack(set, get, step, "before", "after"));
        if (step && focus !== undefined)
          stepped(set, get, { undone: get().undone.slice(0, -1), done: [...get().done, step], focus });
      }),

    keep(pointer, draft) {
      const { slug, document } = get();
      if (!slug) return;
      const key = keyed(document, pointer, useVocabulary.getState().keys);
      keepAll(set, get, { ...get().drafts, [key]: { ...draft, key } });
    },

    drop: (pointer) => get().forget(keyed(get().document, pointer, useVocabulary.getState().keys)),

    forget(key) {
      const { slug } = get();
      if (!slug || !(key in get().drafts)) return;
      const { [key]: _gone, ...drafts } = get().drafts;
      keepAll(set, get, drafts);
    },
  };
}

/** Whether a pointer is that of an entry's number or name: what refers to the entry goes with it. */
function isKey(pointer: string): boolean {
  const [list = "", , field, more] = parts(pointer);
  return more === undefined && field !== undefined && useVocabulary.getState().keys[list] === field;
}

/** Have the server add something, or give an entry another name; what it is called, and what else was made. */
async function adds(set: SetWork, get: GetWork, adding: Adding) {
  const { document, looking } = get();
  const nothing = { name: "", says: [] };
  if (!document || looking) return { ...nothing, faults: [{ where: "", what: "Go back to the newest revision." }] };
  const { data, error, status } = await asked(document, adding);
  if (status === 401 || (!data && !error)) {
    get().lose(status === 401);
    const key = `+${adding.what} ${Object.keys(get().drafts).length + 1}`;
    keepAll(set, get, { ...get().drafts, [key]: { key, adding } });
    return { ...nothing, faults: [{ where: LOST, what: status === 401 ? NO_SESSION : NO_CONNECTION }] };
  }
  if (!data) {
    const { faults, message } = error as { faults?: Fault[]; message?: string };
    return { ...nothing, faults: faults?.length ? faults : [{ where: "", what: message ?? "It was refused." }] };
  }
  const faults = await take(set, get, data.document as Setup);
  if (!faults.length)
    remember(set, get, { key: "", before: document, after: data.document, at: new Date().toISOString() });
  return { faults, name: data.name, says: data.says };
}

/** What is not sent yet, in the browser's store too. */
function keepAll(set: SetWork, get: GetWork, drafts: Drafts) {
  const { slug } = get();
  if (!slug) return;
  keepDrafts(slug, drafts);
  set({ drafts });
}

/** Make a document the document if it has no faults: preview it, show what follows, keep it, save it. */
async function take(set: SetWork, get: GetWork, document: Setup): Promise<Fault[]> {
  const { slug, base, baseRevision, saving } = get();
  const question = { ...get(), document };
  if (saving === "saved") set({ saving: "saving" });
  const turn = nextTurn();
  let said = "";
  const answer = await preview(question, "edit").catch((failed) => {
    said = failed instanceof Unanswered && failed.status !== 401 ? failed.said : "";
    return said ? null : lost(set, get)(failed);
  });
  // What was asked for before it was dropped for it; it is asked for again where nothing comes of this one.
  if (isNewest(turn) && (said || answer?.faults.length) && !isCurrent({ ...get(), entering: 0 })) void ask(set, get);
  if (!answer) {
    if (said && get().saving === "saving" && !isFlushing()) set({ saving });
    if (said) return [{ where: "", what: said }];
    const signedOut = get().saving === "signed-out";
    return [{ where: LOST, what: signedOut ? NO_SESSION : NO_CONNECTION }];
  }
  if (answer.faults.length) {
    if (get().saving === "saving" && !isFlushing()) set({ saving });
    return answer.faults;
  }
  if (slug && base)
    localStorage.setItem(unsavedKey(slug), JSON.stringify({ base, baseRevision, document } satisfies Unsaved));
  if (isNewest(turn)) set({ document, ...found(question, answer), ...cursor(get(), answer) });
  else {
    set({ document }); // something else has been asked for meanwhile: of this document, not of the one before
    void ask(set, get);
  }
  void get().flush();
  return [];
}

/** What undo does: what one step changed `from` is changed `to` in the document as it is now, and what others changed since is left.
 * The quantity that it was, or null for all of the document; undefined: it could not be done now. */
async function takeBack(
  set: SetWork,
  get: GetWork,
  step: Step,
  from: "before" | "after",
  to: "before" | "after",
): Promise<string | null | undefined> {
  const { document, looking } = get();
  const { key } = step;
  if (!document || looking) return undefined;
  const pointer = located(document, key, useVocabulary.getState().keys);
  if (pointer === null) {
    set({ left: { keys: [key], gone: true } });
    return null;
  }
  const as = (when: "before" | "after") => step.whole?.[when] ?? (write(document, pointer, step[when]) as Setup);
  const [base, mine] = [as(from), as(to)];
  const { data } = await client.POST("/api/merge", { body: { base, mine, theirs: document } }).catch(() => {
    get().lose(false);
    return { data: undefined };
  });
  if (!data) return undefined;
  set({ left: data.left.length ? { keys: data.left.map((entry) => entry.where) } : null });
  const same = JSON.stringify(data.document) === JSON.stringify(document);
  return same || (await take(set, get, data.document)).length === 0 ? pointer || null : undefined;
}
