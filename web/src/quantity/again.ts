/** A value that was typed once and waits for its second entry: by its pointer, wherever it was typed. */
import { create } from "zustand";
import type { Fault } from "../api/client";

interface Again {
  pointer: string;
  first: number;
  ask: (pointer: string, first: number) => Fault[];
  end: () => void;
}

export const useAgain = create<Again>((set) => ({
  pointer: "",
  first: 0,
  ask: (pointer, first) => {
    set({ pointer, first });
    return [];
  },
  end: () => set({ pointer: "" }),
}));
