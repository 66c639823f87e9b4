import { create } from "zustand";

type Ground = "light" | "dark";

interface Shell {
  open: "palette" | "help" | "history" | "unsent" | "undo" | null;
  ground: Ground;
  /** whether the hand panel is open */
  panel: boolean;
  turnPanel: () => void;
  set: (part: { open: Shell["open"] }) => void;
  turnGround: () => void;
}

const KEY = "orthotrope:ground";
const PANEL = "orthotrope:hand-panel";

function show(ground: Ground): Ground {
  document.documentElement.dataset.ground = ground;
  return ground;
}

export const useShell = create<Shell>((set, get) => ({
  open: null,
  ground: show(localStorage.getItem(KEY) === "dark" ? "dark" : "light"),
  panel: localStorage.getItem(PANEL) === "open",
  set,
  turnPanel() {
    const panel = !get().panel;
    localStorage.setItem(PANEL, panel ? "open" : "closed");
    set({ panel });
  },
  turnGround() {
    const ground = show(get().ground === "dark" ? "light" : "dark");
    localStorage.setItem(KEY, ground);
    set({ ground });
  },
}));

/** Paper is white. */
window.addEventListener("beforeprint", () => show("light"));
window.addEventListener("afterprint", () => show(useShell.getState().ground));
