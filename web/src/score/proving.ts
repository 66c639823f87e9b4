/** A stage's own sequences proven one after the other, kept with the document that they were worked out for. */
import { create, type StoreApi, type UseBoundStore } from "zustand";
import type { Finding, Setup, Under } from "../api/client";
import { refusal } from "../api/client";
import { setupNow } from "../work/document";

/** What a sequence came to. */
export interface Came {
  findings: Finding[];
  faults: Under[];
}

export interface Proven {
  document: Setup | null;
  results: Record<string, Came>;
  /** why a sequence has none */
  why: Record<string, string>;
  /** how many are done of how many; null: nothing goes on */
  progress: [number, number] | null;
  prove: () => Promise<void>;
  stop: () => void;
}

type Asking = (document: Setup, name: string) => Promise<{ data?: Came | undefined; error?: unknown }>;

/** `names`: the sequences of a document, as they are asked for. */
export function proving(names: (document: Setup) => string[], ask: Asking): UseBoundStore<StoreApi<Proven>> {
  let turn = 0;
  return create<Proven>((set, get) => ({
    document: null,
    results: {},
    why: {},
    progress: null,

    async prove() {
      const document = setupNow();
      if (!document) return;
      const mine = ++turn;
      const all = names(document);
      set({ document, results: {}, why: {}, progress: [0, all.length] });
      for (const [at, name] of all.entries()) {
        const { data, error } = await ask(document, name);
        if (mine !== turn) return;
        if (data) set({ results: { ...get().results, [name]: data } });
        else set({ why: { ...get().why, [name]: refusal(error) } });
        set({ progress: [at + 1, all.length] });
      }
      set({ progress: null });
    },

    stop() {
      turn++;
      set({ progress: null });
    },
  }));
}
