/** Edits, their undoing, and what was typed and can't be sent. */
import { client, type Fault, type Setup } from "../api/client";
import { asked } from "./adding";
import { answers, ask, isNewest, lost, nextTurn, preview, show, Unanswered } from "./asking";
import { lose, type Step, type Unsaved, useDocument } from "./document";
import { type Adding, type Draft, type Drafts, keepDrafts } from "./drafts";
import { entered, isPlanned } from "./planned";
import { keyed, located, parts, read, write } from "./pointer";
import { flush, isFlushing, unsavedKey } from "./saving";
import { useSelection } from "./selection";
import { remember, stepped } from "./undoing";
import { LOST, NO_CONNECTION, NO_SESSION } from "./unsent";
import { useVocabulary } from "./vocabulary";

const { setState: set, getState: get } = useDocument;

let edits: Promise<unknown> = Promise.resolve();

/** One after the other: what an edit begins from is what the one before it has left. */
function inTurn<Result>(run: () => Promise<Result>): Promise<Result> {
  const result = edits.then(run, run);
  edits = result;
  return entering(result);
}

/** Until this has ended, no answer is that of what was entered. */
export function entering<Result>(work: Promise<Result>): Promise<Result> {
  const count = (by: number) => set({ entering: get().entering + by });
  count(1);
  return work.finally(() => count(-1));
}

/** Change a quantity; what is wrong with it, if it is not taken. A function gets the value that it is a change of. */
export function edit(pointer: string, wanted: unknown | ((before: never) => unknown)): Promise<Fault[]> {
  return inTurn(async () => {
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
      return (await adds({ what: "rename", body: { where: pointer, value } })).faults;
    const after = entered(document, write(document, pointer, value), pointer);
    const faults = await take(after);
    if (faults[0]?.where === LOST)
      keep(pointer, listed ? { value, base: kept && "base" in kept ? kept.base : before } : { value });
    if (!faults.length) {
      drop(pointer);
      const key = keyed(document, pointer, useVocabulary.getState().keys);
      const whole = after.planned === document.planned ? undefined : { before: document, after };
      remember({ key, before, after: value, at: new Date().toISOString(), whole });
    }
    return faults;
  });
}

/** Add something whose numbers the server chooses; what it is called there, and what else was made for it. */
export const addToSetup = (adding: Adding) => inTurn(() => adds(adding));

export const undo = () =>
  inTurn(async () => {
    const step = get().done.at(-1);
    const focus = step && (await takeBack(step, "after", "before"));
    if (!step || focus === undefined) return;
    stepped({ done: get().done.slice(0, -1), undone: [...get().undone, step] });
    useSelection.setState({ focus });
  });

export const redo = () =>
  inTurn(async () => {
    const step = get().undone.at(-1);
    const focus = step && (await takeBack(step, "before", "after"));
    if (!step || focus === undefined) return;
    stepped({ undone: get().undone.slice(0, -1), done: [...get().done, step] });
    useSelection.setState({ focus });
  });

/** Keep what was typed until it can be sent. */
export function keep(pointer: string, draft: Omit<Draft, "key">) {
  const { slug, document } = get();
  if (!slug) return;
  const key = keyed(document, pointer, useVocabulary.getState().keys);
  keepAll({ ...get().drafts, [key]: { ...draft, key } });
}

/** Forget what was typed and not sent. */
export const drop = (pointer: string) => forget(keyed(get().document, pointer, useVocabulary.getState().keys));

export function forget(key: string) {
  const { slug } = get();
  if (!slug || !(key in get().drafts)) return;
  const { [key]: _gone, ...drafts } = get().drafts;
  keepAll(drafts);
}

/** Whether a pointer is that of an entry's number or name: what refers to the entry goes with it. */
function isKey(pointer: string): boolean {
  const [list = "", , field, more] = parts(pointer);
  return more === undefined && field !== undefined && useVocabulary.getState().keys[list] === field;
}

/** Have the server add something, or give an entry another name; what it is called, and what else was made. */
async function adds(adding: Adding) {
  const { document, looking } = get();
  const nothing = { name: "", says: [] };
  if (!document || looking) return { ...nothing, faults: [{ where: "", what: "Go back to the newest revision." }] };
  const { data, error, status } = await asked(document, adding);
  if (status === 401 || (!data && !error)) {
    lose(status === 401);
    const key = `+${adding.what} ${Object.keys(get().drafts).length + 1}`;
    keepAll({ ...get().drafts, [key]: { key, adding } });
    return { ...nothing, faults: [{ where: LOST, what: status === 401 ? NO_SESSION : NO_CONNECTION }] };
  }
  if (!data) {
    const { faults, message } = error as { faults?: Fault[]; message?: string };
    return { ...nothing, faults: faults?.length ? faults : [{ where: "", what: message ?? "It was refused." }] };
  }
  const faults = await take(data.document as Setup);
  if (!faults.length) remember({ key: "", before: document, after: data.document, at: new Date().toISOString() });
  return { faults, name: data.name, says: data.says };
}

/** What is not sent yet, in the browser's store too. */
function keepAll(drafts: Drafts) {
  const { slug } = get();
  if (!slug) return;
  keepDrafts(slug, drafts);
  set({ drafts });
}

/** Make a document the document if it has no faults: preview it, show what follows, keep it, save it. */
async function take(document: Setup): Promise<Fault[]> {
  const { slug, base, baseRevision, saving } = get();
  const selection = useSelection.getState();
  if (saving === "saved") set({ saving: "saving" });
  const turn = nextTurn();
  let said = "";
  const answer = await preview(document, selection, "edit").catch((failed) => {
    said = failed instanceof Unanswered && failed.status !== 401 ? failed.said : "";
    return said ? null : lost(failed);
  });
  // What was asked for before it was dropped for it; it is asked for again where nothing comes of this one.
  if (isNewest(turn) && (said || answer?.faults.length) && !answers(get(), useSelection.getState())) void ask();
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
  if (isNewest(turn)) show(document, selection, answer);
  else {
    set({ document }); // something else has been asked for meanwhile: of this document, not of the one before
    void ask();
  }
  void flush();
  return [];
}

/** What undo does: what one step changed `from` is changed `to` in the document as it is now, and what others changed since is left.
 * The quantity that it was, or null for all of the document; undefined: it could not be done now. */
async function takeBack(
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
    lose(false);
    return { data: undefined };
  });
  if (!data) return undefined;
  set({ left: data.left.length ? { keys: data.left.map((entry) => entry.where) } : null });
  const same = JSON.stringify(data.document) === JSON.stringify(document);
  return same || (await take(data.document)).length === 0 ? pointer || null : undefined;
}
