/** A value that was typed once and waits for its second entry: by its pointer, wherever it was typed. */
import { create } from "zustand";
import type { Fault } from "../api/client";
import { slugNow } from "../work/document";

interface Again {
  /** the machine that it was typed for */
  slug: string | null;
  pointer: string;
  first: number;
  ask: (pointer: string, first: number) => Fault[];
  end: () => void;
}

export const useAgain = create<Again>((set) => ({
  slug: null,
  pointer: "",
  first: 0,
  ask: (pointer, first) => {
    set({ slug: slugNow(), pointer, first });
    return [];
  },
  end: () => set({ pointer: "" }),
}));
