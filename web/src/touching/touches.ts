/** Where the touches of each routine were latched, as they were taken or typed: kept in the browser until they are taken again. */
import { create } from "zustand";
import { persist } from "zustand/middleware";
import { keptBy, keptForEach } from "../work/kept";

export type Place = [number, number, number];

interface Kept {
  /** by machine and routine; a touch that is missing is null */
  places: Record<string, (Place | null)[]>;
  set: (of: string, places: (Place | null)[]) => void;
}

export const useTouches = create<Kept>()(
  persist(
    (set, get) => ({
      places: {},
      set: (of, places) => set({ places: { ...get().places, [of]: places } }),
    }),
    keptBy<Kept>("touches", { places: {} }),
  ),
);
keptForEach(useTouches, "touches");

export const NO_TOUCHES: (Place | null)[] = [];

interface At {
  x: number;
  y: number;
  z: number;
}

/** A place as its three numbers. */
export const xyz = ({ x, y, z }: At): Place => [x, y, z];

/** The axes along which a touch went. */
export const axesOf = (way: At): (0 | 1 | 2)[] =>
  ([0, 1, 2] as const).filter((axis) => Math.abs(xyz(way)[axis]) > 1e-9);

/** Several touches of one place, each as often as it is measured, as their mean. */
export function means(touches: Place[], each: number): Place[] {
  const found: Place[] = [];
  for (let at = 0; at + each <= touches.length; at += each) {
    const part = touches.slice(at, at + each);
    found.push([0, 1, 2].map((axis) => part.reduce((sum, place) => sum + (place[axis] ?? 0), 0) / each) as Place);
  }
  return found;
}
