/** What calibrating gave, run by run, of each setter: kept in the browser until it is used. */
import { create } from "zustand";
import { persist } from "zustand/middleware";
import { keptBy, keptForEach } from "../../work/kept";

/** A plane height that a run gave, with its reference tool; after which homing, where the machine said so; when. */
export interface Run {
  plane: number;
  tool: number;
  homing: number | null;
  at: string;
}

interface Runs {
  /** by machine and setter */
  planes: Record<string, Run[]>;
  set: (of: string, planes: Run[]) => void;
}

export const useRuns = create<Runs>()(
  persist(
    (set, get) => ({
      planes: {},
      set: (of, planes) => set({ planes: { ...get().planes, [of]: planes } }),
    }),
    keptBy<Runs>("runs", { planes: {} }),
  ),
);
keptForEach(useRuns, "runs");

export const NO_RUNS: Run[] = [];
