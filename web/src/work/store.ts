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
  refusal,
  type Setup,
  type Trace,
} from "../api/client";
import { blockAt } from "../score/evaluate";
import { read, write } from "./pointer";

export type Saving = "saved" | "saving" | "offline" | "signed-out" | "conflict" | "refused";

interface Change {
  pointer: string;
  before: unknown;
  after: unknown;
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

/** What a preview is asked for, beside what every stage shows. */
export type Shown = "machine" | "signals" | "exchange";

interface Work {
  slug: string | null;
  /** what the stage shows of a preview */
  stage: Shown;
  machine: Machine | null;
  missing: string | null;
  document: Setup | null;
  base: Setup | null;
  baseRevision: number;
  answer: Answer | null;
  saving: Saving;
  trouble: string | null;
  conflict: EditConflict | null;
  undone: Change[];
  done: Change[];
  pair: Pair | null;
  picked: number | null;
  profile: string | null;
  /** a program of the user's own that is played in place of the written one */
  brought: { file: string; text: string } | null;
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
  choose: (pair: Pair | null, finding?: Finding) => Promise<void>;
  pick: (tool: number) => void;
  show: (profile: string) => Promise<void>;
  setFocus: (pointer: string | null) => void;
  seek: (time: number) => void;
  step: (by: number) => void;
  goTo: (finding: Finding) => void;
  play: (playing: boolean) => void;
  settle: (mine: boolean) => Promise<void>;
  flush: () => Promise<void>;
  refresh: () => Promise<void>;
  adopt: (machine: Machine) => Promise<void>;
}

const key = (slug: string) => `orthotrope:unsaved:${slug}`;
let edits: Promise<unknown> = Promise.resolve();

/** One after the other: what an edit begins from is what the one before it has left. */
function inTurn<Result>(run: () => Promise<Result>): Promise<Result> {
  const result = edits.then(run, run);
  edits = result;
  return result;
}

let flushing: Promise<void> | null = null;
const NO_CONNECTION = "No connection to the server; the number stays here until there is.";
let choices = 0;

async function preview(
  document: Setup,
  { pair, profile, stage, brought }: Pick<Work, "pair" | "profile" | "stage" | "brought">,
): Promise<Answer> {
  const { data, response } = await client.POST("/api/preview", {
    body: {
      document,
      from_tool: pair?.from ?? null,
      to_tool: pair?.to ?? null,
      profile,
      stage,
      program: brought?.text ?? null,
    },
  });
  if (!data) throw new Error(String(response.status));
  return data;
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
  saving: "saved",
  trouble: null,
  conflict: null,
  undone: [],
  done: [],
  pair: null,
  picked: null,
  profile: null,
  brought: null,
  focus: null,
  time: 0,
  block: 0,
  playing: false,
  chosen: null,
} satisfies Partial<Work>;

export const useWork = create<Work>((set, get) => ({
  ...NOTHING,
  stage: "exchange",

  async open(slug) {
    if (get().slug === slug && get().machine) return;
    get().close();
    set({ slug });
    const { data, response } = await client.GET("/api/machines/{slug}", { params: { path: { slug } } });
    if (!data) {
      set(response.status === 401 ? { saving: "signed-out" } : { missing: "There is no such machine in this shop." });
      return;
    }
    const kept = localStorage.getItem(key(slug));
    const unsaved = kept ? (JSON.parse(kept) as Unsaved) : null;
    const document = unsaved?.document ?? data.document;
    const answer = await preview(document, { pair: null, profile: null, stage: get().stage, brought: null });
    if (get().slug !== slug) return;
    set({
      machine: data,
      document,
      base: unsaved?.base ?? data.document,
      baseRevision: unsaved?.baseRevision ?? data.revision,
      answer,
      pair: paired(answer),
    });
    if (unsaved) await get().flush();
  },

  close: () => set(NOTHING),

  async look(stage) {
    if (get().stage === stage) return;
    set({ stage });
    await again(set, get);
  },

  edit(pointer, wanted) {
    const run = async (): Promise<Fault[]> => {
      const { document } = get();
      if (!document) return [];
      const before = read(document, pointer);
      const value = typeof wanted === "function" ? (wanted as (before: unknown) => unknown)(before) : wanted;
      if (JSON.stringify(before) === JSON.stringify(value)) return [];
      const faults = await take(set, get, write(document, pointer, value));
      if (!faults.length) set({ done: [...get().done, { pointer, before, after: value }].slice(-200), undone: [] });
      return faults;
    };
    return inTurn(run);
  },

  undo: () =>
    inTurn(async () => {
      const change = get().done.at(-1);
      const { document } = get();
      if (!change || !document) return;
      const faults = await take(set, get, write(document, change.pointer, change.before));
      if (!faults.length)
        set({ done: get().done.slice(0, -1), undone: [...get().undone, change], focus: change.pointer });
    }),

  redo: () =>
    inTurn(async () => {
      const change = get().undone.at(-1);
      const { document } = get();
      if (!change || !document) return;
      const faults = await take(set, get, write(document, change.pointer, change.after));
      if (!faults.length)
        set({ undone: get().undone.slice(0, -1), done: [...get().done, change], focus: change.pointer });
    }),

  async choose(pair, finding) {
    const { document } = get();
    if (!document) return;
    const turn = ++choices;
    set({ pair, picked: null });
    const answer = await preview(document, { ...get(), pair }).catch(lost(set, get));
    if (!answer || turn !== choices) return; // another one has been chosen meanwhile
    set({ pair: paired(answer), answer, time: 0, block: 0, playing: false, chosen: null });
    if (finding) {
      const same = answer.exchange?.findings.find((f) => f.check === finding.check && f.message === finding.message);
      get().goTo(same ?? finding);
    }
  },

  pick(tool) {
    const { picked } = get();
    if (picked === null) set({ picked: tool });
    else if (picked === tool) set({ picked: null });
    else void get().choose({ from: picked, to: tool });
  },

  async show(profile) {
    const { document, pair } = get();
    if (!document) return;
    const answer = await preview(document, { ...get(), pair, profile, brought: null }).catch(lost(set, get));
    if (!answer) return;
    set({ profile, brought: null, answer, time: 0, block: 0, playing: false, chosen: null });
  },

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
    const within = near.find(({ block }) => at !== null && block.start_seconds <= at && at <= block.end_seconds + 1e-9);
    const found = within ?? near[0];
    if (found) set({ block: found.index, time: at ?? found.block.end_seconds });
  },

  play(playing) {
    const trace = traceOf(get());
    if (!trace) return;
    if (playing && get().time >= trace.seconds - 1e-6) set({ time: 0, block: 0 });
    set({ playing, chosen: null });
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
    set({ conflict: null, saving: "saved", done: [], undone: [] });
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
    if (!slug || saving !== "saved") return;
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
    await again(set, get);
  },
}));

type Set = (part: Partial<Work>) => void;
type Get = () => Work;

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
        const untouched = get().document === document;
        set({
          machine: data,
          base: untouched ? data.document : document,
          baseRevision: data.revision,
          document: untouched ? data.document : get().document,
        });
        if (untouched && JSON.stringify(data.document) !== JSON.stringify(document)) await again(set, get);
        continue;
      }
      if (response.status === 409) set({ saving: "conflict", conflict: error as EditConflict });
      else if (response.status === 401) set({ saving: "signed-out" });
      else set({ saving: "refused", trouble: refusal(error) });
      return;
    }
  } catch {
    set({ saving: "offline" });
    setTimeout(() => void get().flush(), 1500);
  }
}

/** Make a document the document if it has no faults: preview it, show what follows, keep it, save it. */
async function take(set: Set, get: Get, document: Setup): Promise<Fault[]> {
  const { pair, slug, base, baseRevision, saving } = get();
  if (saving === "saved") set({ saving: "saving" });
  const answer = await preview(document, get()).catch(lost(set, get));
  if (!answer) {
    const what = get().saving === "signed-out" ? "Your session has ended; sign in again." : NO_CONNECTION;
    return [{ where: "", what }];
  }
  if (answer.faults.length) {
    if (get().saving === "saving" && !flushing) set({ saving });
    return answer.faults;
  }
  if (slug && base) localStorage.setItem(key(slug), JSON.stringify({ base, baseRevision, document } satisfies Unsaved));
  set({ document, answer, pair: paired(answer) ?? pair, ...cursor(get(), answer) });
  void get().flush();
  return [];
}

async function again(set: Set, get: Get): Promise<void> {
  const { document, pair, stage } = get();
  const answer = document && (await preview(document, get()).catch(lost(set, get)));
  if (answer && get().stage === stage) set({ answer, pair: paired(answer) ?? pair, ...cursor(get(), answer) });
}

/** What a preview that did not come says: the session has ended, or there is no connection; it is tried again. */
function lost(set: Set, get: Get) {
  return (failed: unknown): null => {
    const signedOut = failed instanceof Error && failed.message === "401";
    set({ saving: signedOut ? "signed-out" : "offline" });
    if (!signedOut) setTimeout(() => void again(set, get).then(() => get().flush()), 1500);
    return null;
  };
}

/** Where the line of time stands in a new trace: at the same moment, if there is one. */
function cursor(work: Work, answer: Answer): Partial<Work> {
  const trace = answer.exchange?.trace;
  const gone = !answer.exchange?.findings.some((finding) => finding.message === work.chosen?.message);
  const chosen = gone ? null : work.chosen;
  if (!trace) return { time: 0, block: 0, chosen };
  const time = Math.min(work.time, trace.seconds);
  return { time, block: blockAt(trace, time), chosen };
}

function paired(answer: Answer): Pair | null {
  return answer.exchange ? { from: answer.exchange.from_tool, to: answer.exchange.to_tool } : null;
}

export function traceOf(work: Pick<Work, "answer">): Trace | null {
  return work.answer?.exchange?.trace ?? null;
}
