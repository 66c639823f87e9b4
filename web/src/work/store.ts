/**
 * The machine that is worked on: its document, what follows from it, and the way to the server.
 *
 * An edit is previewed first; only a document without faults becomes the document. It is saved at once, one request at a
 * time, and kept in the browser until the server has acknowledged it, so that neither a reload nor a lost connection nor
 * an ended session loses a number.
 */
import { create } from "zustand";
import {
  type Answer,
  client,
  type EditConflict,
  type Fault,
  type Finding,
  type Machine,
  type Played,
  type PreviewIn,
  type ReviewSummary,
  refusal,
  type Setup,
  type Trace,
} from "../api/client";
import { NO_CONNECTION, NO_SESSION, understand } from "../quantity/understand";
import { blockAt } from "../score/evaluate";
import { type Draft, type Drafts, keepDrafts, keptAt, keptDrafts } from "./drafts";
import { keyed, located, read, write } from "./pointer";
import { useVocabulary } from "./vocabulary";

export type Saving = "saved" | "saving" | "offline" | "signed-out" | "conflict" | "refused";

/** One edit, to be taken back: the document before it and after it. */
interface Step {
  pointer: string;
  before: Setup;
  after: Setup;
}

interface Unsaved {
  base: Setup;
  baseRevision: number;
  document: Setup;
}

export interface Pair {
  from: number;
  to: number;
}

/** A measuring sequence, of which tools, at which setter; a routine; null: the usual one. */
export interface Wanted {
  sequence: MeasuringName | null;
  tools: number[];
  setter: string | null;
  routine: string | null;
}

/** Set by hand after so many blocks: a parameter's value, or an input made (1) or idle (0). */
export type ByHand = NonNullable<PreviewIn["by_hand"]>[number];

/** What a preview is asked for, beside what every stage shows. */
import type { Shown } from "../stages/stage";

export interface Work {
  slug: string | null;
  /** what the stage shows of a preview */
  stage: Shown;
  machine: Machine | null;
  missing: string | null;
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
  left: string | null;
  drafts: Drafts;
  pair: Pair | null;
  picked: number | null;
  profile: string | null;
  /** the fault of the proof that the exchange is played under */
  fault: string | null;
  /** a program of the user's own that is played in place of the written one */
  brought: { file: string; text: string; purpose?: ReviewSummary["purpose"] } | null;
  /** the measuring sequence that is looked at */
  measuring: Wanted;
  /** what is set by hand while it is stepped */
  byHand: ByHand[];
  focus: string | null;
  time: number;
  block: number;
  playing: boolean;
  chosen: Finding | null;

  open: (slug: string) => Promise<void>;
  close: () => void;
  look: (stage: Shown) => Promise<void>;
  edit: (pointer: string, value: unknown | ((before: never) => unknown)) => Promise<Fault[]>;
  undo: () => Promise<void>;
  redo: () => Promise<void>;
  /** keep what was typed until it can be sent */
  keep: (pointer: string, draft: Omit<Draft, "key">) => void;
  /** forget what was typed and not sent */
  drop: (pointer: string) => void;
  forget: (key: string) => void;
  /** there is no connection, or the session has ended */
  lose: (signedOut: boolean) => void;
  choose: (pair: Pair | null, finding?: Finding, fault?: string | null) => Promise<void>;
  pick: (tool: number) => void;
  show: (profile: string) => Promise<void>;
  measure: (wanted: Partial<Wanted>, fault?: string | null) => Promise<void>;
  /** play on with these set by hand, from where it is */
  setByHand: (byHand: ByHand[]) => Promise<void>;
  /** play a program of the user's own in place of the written one; null: the written one */
  bring: (brought: Work["brought"]) => Promise<void>;
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

/** Tells this window's questions from another's. */
const WINDOW = Math.random().toString(36).slice(2);

type FaultName = NonNullable<PreviewIn["fault"]>;
type MeasuringName = NonNullable<PreviewIn["sequence"]>;

const key = (slug: string) => keptAt("unsaved", slug);
let edits: Promise<unknown> = Promise.resolve();

/** One after the other: what an edit begins from is what the one before it has left. */
function inTurn<Result>(run: () => Promise<Result>): Promise<Result> {
  const result = edits.then(run, run);
  edits = result;
  return entering(result);
}

/** Until this has ended, no answer is that of what was entered. */
export function entering<Result>(work: Promise<Result>): Promise<Result> {
  const count = (by: number) => useWork.setState((before) => ({ entering: before.entering + by }));
  count(1);
  return work.finally(() => count(-1));
}

/** What an answer depends on, in one order. */
export function asked(work: Omit<Asked, "document"> & { document: Setup | null }): unknown[] {
  const { document, pair, profile, stage, brought, fault, measuring, byHand } = work;
  return [document, pair?.from, pair?.to, profile, stage, brought, fault, measuring, byHand];
}

/** Whether the answer is that of what is chosen and entered: a text that isn't must not go to a machine. */
export function isCurrent(work: Work): boolean {
  const now = asked(work);
  return !work.entering && !!work.answer && now.every((value, index) => value === work.answered[index]);
}

/** Questions that this window has asked: two that are sent together may arrive in either order. */
let questions = 0;

let flushing: Promise<void> | null = null;
let turns = 0;
let retry: ReturnType<typeof setTimeout> | undefined;

/** where a fault stands that is none of the input: it could not be sent */
export const LOST = "connection";

/** ms until it is tried again to reach the server */
const RETRY = 1500;

/** what the server answers where a later question of this window has taken the place of this one */
const SUPERSEDED = 204;

class Unanswered extends Error {
  constructor(
    public status: number,
    public said: string,
  ) {
    super(said);
  }
}

type Asked = Pick<Work, "pair" | "profile" | "stage" | "brought" | "fault" | "measuring" | "byHand"> & {
  document: Setup;
};

async function preview(
  { document, pair, profile, stage, brought, fault, measuring, byHand }: Asked,
  purpose: "edit" | "look" = "look",
): Promise<Answer> {
  for (;;) {
    const { data, error, response } = await client.POST("/api/preview", {
      headers: { "X-Window": `${WINDOW}-${purpose}`, "X-Question": String(++questions) },
      body: {
        document,
        from_tool: pair?.from ?? null,
        to_tool: pair?.to ?? null,
        profile,
        stage,
        program: brought?.text ?? null,
        purpose: brought?.purpose ?? null,
        fault: fault as FaultName | null,
        by_hand: byHand,
        ...measuring,
      },
    });
    if (data) return data;
    if (response.status !== SUPERSEDED || purpose === "look") throw new Unanswered(response.status, refusal(error));
  }
}

/** No machine is worked on. */
const NOTHING = {
  slug: null,
  machine: null,
  missing: null,
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
  pair: null,
  picked: null,
  profile: null,
  fault: null,
  brought: null,
  measuring: { sequence: null, tools: [], setter: null, routine: null },
  byHand: [],
  focus: null,
  time: 0,
  block: 0,
  playing: false,
  chosen: null,
} satisfies Partial<Work>;

export const useWork = create<Work>((set, get) => ({
  ...NOTHING,
  stage: "exchange",
  entering: 0,
  ...opening(set, get),
  ...editing(set, get),
  ...choosing(set, get),
  ...playing(set, get),
  ...saving(set, get),
}));

type Set = (part: Partial<Work>) => void;
type Get = () => Work;

/** Which machine is worked on, and on which stage. */
function opening(set: Set, get: Get): Pick<Work, "open" | "close" | "look"> {
  return {
    async open(slug) {
      if (get().slug === slug && get().machine) return;
      get().close();
      set({ slug });
      const answered = await client.GET("/api/machines/{slug}", { params: { path: { slug } } }).catch(() => null);
      if (get().slug !== slug) return;
      if (!answered) {
        set({ saving: "offline", slug: null });
        setTimeout(
          () => get().slug === null && location.pathname.startsWith(`/machines/${slug}/`) && void get().open(slug),
          RETRY,
        );
        return;
      }
      const { data, error, response } = answered;
      if (!data) {
        const gone = "There is no such machine in this shop.";
        set(
          response.status === 401
            ? { saving: "signed-out" }
            : { missing: response.status === 404 ? gone : refusal(error) },
        );
        return;
      }
      await useVocabulary.getState().load();
      const kept = localStorage.getItem(key(slug));
      const unsaved = kept ? (JSON.parse(kept) as Unsaved) : null;
      const document = unsaved?.document ?? data.document;
      const { stage, measuring } = get();
      const question = {
        document,
        pair: null,
        profile: null,
        stage,
        brought: null,
        fault: null,
        measuring,
        byHand: [],
      };
      const answer = await preview(question).catch(lost(set, get));
      if (get().slug !== slug) return;
      set({
        saving: get().saving === "offline" ? "offline" : "saved",
        drafts: keptDrafts(slug),
        machine: data,
        document,
        base: unsaved?.base ?? data.document,
        baseRevision: unsaved?.baseRevision ?? data.revision,
        ...(answer ? found(question, answer) : { answer, pair: null }),
      });
      if (get().stage !== question.stage) await ask(set, get); // gone to another stage meanwhile
      if (unsaved) await get().flush();
      await resend(get);
    },

    close: () => set(NOTHING),

    async look(stage) {
      if (get().stage === stage) return;
      set({ stage, byHand: [] });
      await ask(set, get);
    },
  };
}

/** Edits, their undoing, and what was typed and can't be sent. */
function editing(set: Set, get: Get): Pick<Work, "edit" | "undo" | "redo" | "keep" | "drop" | "forget"> {
  return {
    edit(pointer, wanted) {
      const run = async (): Promise<Fault[]> => {
        const { document } = get();
        if (!document) return [];
        const before = read(document, pointer);
        const value = typeof wanted === "function" ? (wanted as (before: unknown) => unknown)(before) : wanted;
        if (JSON.stringify(before) === JSON.stringify(value)) return [];
        const faults = await take(set, get, write(document, pointer, value));
        if (faults[0]?.where === LOST && typeof wanted !== "function") get().keep(pointer, { value });
        const after = get().document;
        if (!faults.length && after) {
          get().drop(pointer);
          set({ done: [...get().done, { pointer, before: document, after }].slice(-200), undone: [], left: null });
        }
        return faults;
      };
      return inTurn(run);
    },

    undo: () =>
      inTurn(async () => {
        const step = get().done.at(-1);
        if (step && (await takeBack(set, get, step.after, step.before)))
          set({ done: get().done.slice(0, -1), undone: [...get().undone, step], focus: step.pointer || null });
      }),

    redo: () =>
      inTurn(async () => {
        const step = get().undone.at(-1);
        if (step && (await takeBack(set, get, step.before, step.after)))
          set({ undone: get().undone.slice(0, -1), done: [...get().done, step], focus: step.pointer || null });
      }),

    keep(pointer, draft) {
      const { slug, document } = get();
      if (!slug) return;
      const key = keyed(document, pointer, useVocabulary.getState().keys);
      const drafts = { ...get().drafts, [key]: { ...draft, key } };
      keepDrafts(slug, drafts);
      set({ drafts });
    },

    drop: (pointer) => get().forget(keyed(get().document, pointer, useVocabulary.getState().keys)),

    forget(key) {
      const { slug } = get();
      if (!slug || !(key in get().drafts)) return;
      const { [key]: _gone, ...drafts } = get().drafts;
      keepDrafts(slug, drafts);
      set({ drafts });
    },
  };
}

/** Which exchange is looked at, in which profile. */
function choosing(
  set: Set,
  get: Get,
): Pick<Work, "choose" | "pick" | "show" | "bring" | "measure" | "setByHand" | "undisturbed"> {
  return {
    async choose(pair, finding, fault = null) {
      if (!get().document) return;
      set({ pair, picked: null, fault, byHand: [] });
      const fresh = { time: 0, block: 0, playing: false, chosen: null };
      const answer = await ask(set, get, fresh);
      if (!answer) return;
      const under = answer.exchange?.under;
      if (finding) {
        const same = answer.exchange?.findings.find((f) => f.check === finding.check && f.message === finding.message);
        get().goTo(same ?? finding);
      } else if (under?.finding) {
        const { check, line } = under.finding;
        const told = answer.exchange?.findings.find((f) => f.check === check && f.line === line);
        get().goTo(told ?? { ...under.finding, message: under.says });
      }
    },

    pick(tool) {
      const { picked } = get();
      if (picked === null) set({ picked: tool });
      else if (picked === tool) set({ picked: null });
      else void get().choose({ from: picked, to: tool });
    },

    async undisturbed() {
      set({ fault: null, byHand: [] });
      await ask(set, get, { time: 0, block: 0, playing: false, chosen: null });
    },

    async measure(wanted, fault = null) {
      set({ measuring: { ...get().measuring, ...wanted }, brought: null, fault, byHand: [] });
      await ask(set, get, { time: 0, block: 0, playing: false, chosen: null });
    },

    async setByHand(byHand) {
      const { time, block } = get();
      set({ byHand });
      await ask(set, get, { time, block, playing: false, chosen: null });
    },

    async bring(brought) {
      set({ brought, byHand: [] });
      await ask(set, get, { time: 0, block: 0, playing: false, chosen: null });
    },

    async show(profile) {
      if (!get().document) return;
      set({ profile, brought: null, byHand: [] });
      await ask(set, get, { time: 0, block: 0, playing: false, chosen: null });
    },
  };
}

/** The moment that is looked at. */
function playing(set: Set, get: Get): Pick<Work, "setFocus" | "seek" | "step" | "goTo" | "play"> {
  return {
    setFocus: (focus) => set({ focus }),

    seek(time) {
      const trace = traceOf(get());
      if (!trace) return;
      const t = Math.min(Math.max(0, time), trace.seconds);
      set({ time: t, block: t > 0 ? blockAt(trace, t) : 0 });
    },

    step(by) {
      const trace = traceOf(get());
      if (!trace) return;
      const block = Math.min(Math.max(0, get().block + by), trace.blocks.length - 1);
      set({ block, time: trace.blocks[block]?.end_seconds ?? 0, playing: false });
    },

    goTo(finding) {
      set({ chosen: finding, playing: false, focus: finding.quantity });
      const trace = traceOf(get());
      if (!trace) return;
      if (finding.at_seconds !== null) set({ time: finding.at_seconds });
      const near = trace.blocks
        .map((block, index) => ({ block, index }))
        .filter(({ block }) => block.line === finding.line);
      const at = finding.at_seconds;
      const within = near.find(
        ({ block }) => at !== null && block.start_seconds <= at && at <= block.end_seconds + 1e-9,
      );
      const found = within ?? near[0];
      if (found) set({ block: found.index, time: at ?? found.block.end_seconds });
    },

    play(playing) {
      const trace = traceOf(get());
      if (!trace) return;
      if (playing && get().time >= trace.seconds - 1e-6) set({ time: 0, block: 0 });
      set({ playing, chosen: null });
    },
  };
}

/** What the server has, and what it has not yet. */
function saving(set: Set, get: Get): Pick<Work, "lose" | "settle" | "flush" | "refresh" | "adopt" | "restored"> {
  return {
    lose(signedOut) {
      set({ saving: signedOut ? "signed-out" : "offline" });
      if (!signedOut) tryLater(set, get);
    },

    async settle(mine) {
      const { conflict, document, machine } = get();
      if (!conflict || !document || !machine) return;
      if (mine) {
        set({ base: conflict.document, baseRevision: conflict.revision, conflict: null, saving: "saved" });
        await get().flush();
        return;
      }
      localStorage.removeItem(key(machine.slug));
      set({ conflict: null, saving: "saved" });
      await get().refresh();
      const now = get().machine;
      if (now) await get().adopt(now);
    },

    flush() {
      flushing ??= sendUnsaved(set, get).finally(() => {
        flushing = null;
      });
      return flushing;
    },

    async refresh() {
      const { slug, saving, machine } = get();
      if (!slug || !machine || saving !== "saved") return; // while it is being opened there is nothing to refresh
      const { data, response } = await client
        .GET("/api/machines/{slug}", { params: { path: { slug } } })
        .catch(() => ({ data: undefined, response: undefined }));
      if (response?.status === 401) set({ saving: "signed-out" });
      if (!data || get().slug !== slug || get().saving !== "saved") return;
      const moved = data.changed !== machine?.changed || data.revision !== machine?.revision;
      if (moved) await get().adopt(data);
      else set({ machine: data });
    },

    async adopt(machine) {
      set({ machine, document: machine.document, base: machine.document, baseRevision: machine.revision });
      await ask(set, get);
    },

    async restored(machine) {
      const before = get().document;
      await get().adopt(machine);
      if (before)
        set({
          done: [...get().done, { pointer: "", before, after: machine.document }].slice(-200),
          undone: [],
          left: null,
        });
    },
  };
}

/** Send what is not saved, one request after the other, until all is. */
async function sendUnsaved(set: Set, get: Get): Promise<void> {
  try {
    for (;;) {
      const { slug, document, base, baseRevision } = get();
      if (!slug || !document || !base || JSON.stringify(document) === JSON.stringify(base)) {
        if (slug) localStorage.removeItem(key(slug));
        set({ saving: "saved", trouble: null });
        return;
      }
      set({ saving: "saving" });
      const { data, error, response } = await client.PUT("/api/machines/{slug}", {
        params: { path: { slug } },
        body: { base_revision: baseRevision, base, document },
      });
      if (get().slug !== slug) return;
      if (data) {
        const merged = get().document === document && JSON.stringify(data.document) !== JSON.stringify(document);
        set({
          machine: data,
          base: merged ? data.document : document,
          baseRevision: data.revision,
          document: merged ? data.document : get().document,
        });
        if (merged) await ask(set, get);
        continue;
      }
      if (response.status === 409) set({ saving: "conflict", conflict: error as EditConflict });
      else if (response.status === 401) set({ saving: "signed-out" });
      else set({ saving: "refused", trouble: refusal(error) });
      return;
    }
  } catch {
    get().lose(false);
  }
}

/** Make a document the document if it has no faults: preview it, show what follows, keep it, save it. */
async function take(set: Set, get: Get, document: Setup): Promise<Fault[]> {
  const { slug, base, baseRevision, saving } = get();
  const question = { ...get(), document };
  if (saving === "saved") set({ saving: "saving" });
  const turn = ++turns;
  let said = "";
  const answer = await preview(question, "edit").catch((failed) => {
    said = failed instanceof Unanswered && failed.status !== 401 ? failed.said : "";
    return said ? null : lost(set, get)(failed);
  });
  // What was asked for before it was dropped for it; it is asked for again where nothing comes of this one.
  if (turn === turns && (said || answer?.faults.length) && !isCurrent({ ...get(), entering: 0 })) void ask(set, get);
  if (!answer) {
    if (said && get().saving === "saving" && !flushing) set({ saving });
    if (said) return [{ where: "", what: said }];
    const signedOut = get().saving === "signed-out";
    return [{ where: LOST, what: signedOut ? NO_SESSION : NO_CONNECTION }];
  }
  if (answer.faults.length) {
    if (get().saving === "saving" && !flushing) set({ saving });
    return answer.faults;
  }
  if (slug && base) localStorage.setItem(key(slug), JSON.stringify({ base, baseRevision, document } satisfies Unsaved));
  if (turn === turns) set({ document, ...found(question, answer), ...cursor(get(), answer) });
  else {
    set({ document }); // something else has been asked for meanwhile: of this document, not of the one before
    void ask(set, get);
  }
  void get().flush();
  return [];
}

/** Ask for what the stage shows, and show it if nothing newer was asked for meanwhile; of another document it is asked anew. */
async function ask(set: Set, get: Get, more: Partial<Work> = {}): Promise<Answer | null> {
  const turn = ++turns;
  for (;;) {
    const { document } = get();
    if (!document) return null;
    const question = { ...get(), document };
    const answer = await preview(question).catch(lost(set, get));
    if (!answer || turn !== turns) return null;
    if (get().document !== document) continue;
    set({ ...found(question, answer), ...cursor(get(), answer), ...more });
    return answer;
  }
}

/** What undo does: what one step changed is changed back in the document as it is now, and what others changed since is left. */
async function takeBack(set: Set, get: Get, base: Setup, mine: Setup): Promise<boolean> {
  const { document } = get();
  if (!document) return false;
  const { data } = await client.POST("/api/merge", { body: { base, mine, theirs: document } }).catch(() => {
    get().lose(false);
    return { data: undefined };
  });
  if (!data) return false;
  const places = data.left.map((entry) => entry.where).join(", ");
  set({ left: places ? `${places} was changed by someone else since; it is left as it is.` : null });
  const same = JSON.stringify(data.document) === JSON.stringify(document);
  return same || (await take(set, get, data.document)).length === 0;
}

/** What a preview that did not come says: the session has ended, there is no connection, or why it is refused. */
function lost(set: Set, get: Get) {
  return (failed: unknown): null => {
    if (failed instanceof Unanswered && failed.status !== 401) {
      if (failed.status !== SUPERSEDED) set({ trouble: failed.said });
    } else get().lose(failed instanceof Unanswered);
    return null;
  };
}

/** Try again in a while whether there is a connection: one timer for all that waits for it. */
function tryLater(set: Set, get: Get) {
  clearTimeout(retry);
  retry = setTimeout(async () => {
    if (get().saving !== "offline" || !get().slug) return;
    if (!(await ask(set, get))) {
      if (get().saving === "offline") tryLater(set, get);
      return;
    }
    if (get().saving === "offline") set({ saving: "saved" });
    await get().flush();
    await resend(get);
  }, RETRY);
}

/** Send what was typed while it could not be sent; what is refused stays, with the reason. */
export async function resend(get: Get = useWork.getState): Promise<void> {
  for (const draft of Object.values(get().drafts)) {
    const pointer = located(get().document, draft.key, useVocabulary.getState().keys);
    if (pointer === null) {
      const gone = { ...draft, refused: "It is not in the Setup any more." };
      useWork.setState({ drafts: { ...get().drafts, [draft.key]: gone } });
      continue;
    }
    let { value } = draft;
    if (draft.text !== undefined && draft.kind) {
      const found = await understand(draft.text, draft.kind, draft.unit ?? "mm").catch(() => null);
      if (!found) return; // it still can't be asked
      if (found.value === null) {
        get().keep(pointer, { ...draft, refused: found.what });
        continue;
      }
      value = found.value;
    }
    const faults = await get().edit(pointer, value);
    if (faults[0]?.where === LOST) return;
    if (faults.length) get().keep(pointer, { ...draft, refused: faults.map((fault) => fault.what).join(" ") });
    else get().drop(pointer);
  }
}

/** Where the line of time stands in a new trace: at the same moment, if there is one. */
function cursor(work: Work, answer: Answer): Partial<Work> {
  const trace = playedOf({ answer })?.trace;
  const gone = !playedOf({ answer })?.findings.some((finding) => finding.message === work.chosen?.message);
  const chosen = gone ? null : work.chosen;
  if (!trace) return { time: 0, block: 0, chosen };
  const time = Math.min(work.time, trace.seconds);
  return { time, block: blockAt(trace, time), chosen };
}

function found(question: Asked, answer: Answer) {
  const pair = paired(answer) ?? question.pair;
  return { answer, pair, answered: asked({ ...question, pair }) };
}

function paired(answer: Answer): Pair | null {
  return answer.exchange ? { from: answer.exchange.from_tool, to: answer.exchange.to_tool } : null;
}

export function traceOf(work: Pick<Work, "answer">): Trace | null {
  return playedOf(work)?.trace ?? null;
}

/** The sequence that the stage shows; null: none. */
export function playedOf(work: Pick<Work, "answer">): Played | null {
  return work.answer?.exchange ?? work.answer?.measuring ?? work.answer?.probing ?? null;
}
