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

/** What was chosen here, else what the system is set to. */
function usual(): Ground {
  const chosen = localStorage.getItem(KEY);
  if (chosen === "dark" || chosen === "light") return chosen;
  return window.matchMedia?.("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

export const useShell = create<Shell>((set, get) => ({
  open: null,
  ground: show(usual()),
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

/** The system's setting holds as long as nothing else was chosen here. */
window.matchMedia?.("(prefers-color-scheme: dark)").addEventListener("change", () => {
  if (localStorage.getItem(KEY) === null) useShell.setState({ ground: show(usual()) });
});
