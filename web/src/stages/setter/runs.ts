/** What calibrating gave, run by run, of each setter: kept while one looks elsewhere, until the page is closed. */
import { create } from "zustand";

interface Runs {
  /** by machine and setter */
  planes: Record<string, number[]>;
  set: (of: string, planes: number[]) => void;
}

export const useRuns = create<Runs>((set, get) => ({
  planes: {},
  set: (of, planes) => set({ planes: { ...get().planes, [of]: planes } }),
}));

export const NO_RUNS: number[] = [];
