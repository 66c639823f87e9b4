/** What was taken of each probe while it is qualified: kept in the browser until it is taken again. */
import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Place } from "../../touching/touches";
import { keptBy, keptForEach } from "../../work/kept";

interface Taken {
  /** by machine and probe: Z of the gauge line at the reference face; the touches round the clock, at 0° and half a turn further */
  heights: Record<string, number[]>;
  places: Record<string, Place[]>;
  turned: Record<string, Place[]>;
  add: (of: string, height: number) => void;
  clear: (of: string) => void;
  take: (of: string, places: Place[], turned: boolean) => void;
}

export const useTaken = create<Taken>()(
  persist(
    (set, get) => ({
      heights: {},
      places: {},
      turned: {},
      add: (of, height) => set({ heights: { ...get().heights, [of]: [...(get().heights[of] ?? []), height] } }),
      clear: (of) => set({ heights: { ...get().heights, [of]: [] } }),
      take: (of, places, turned) =>
        set(
          turned
            ? { turned: { ...get().turned, [of]: places } }
            : { places: { ...get().places, [of]: places }, turned: { ...get().turned, [of]: [] } },
        ),
    }),
    keptBy<Taken>("taken", { heights: {}, places: {}, turned: {} }),
  ),
);
keptForEach(useTaken, "taken");

export const NO_HEIGHTS: number[] = [];
export const NO_PLACES: Place[] = [];
