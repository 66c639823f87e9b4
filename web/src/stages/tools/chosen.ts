/** Which tool is looked at, by its place in the document. */
import { create } from "zustand";

export const useChosen = create<{ chosen: number; choose: (index: number) => void }>((set) => ({
  chosen: 0,
  choose: (chosen) => set({ chosen }),
}));
