import { create } from "zustand";

type Ground = "light" | "dark";

interface Shell {
  open: "palette" | "help" | "history" | null;
  ground: Ground;
  set: (part: { open: Shell["open"] }) => void;
  turnGround: () => void;
}

const KEY = "orthotrope:ground";

function show(ground: Ground): Ground {
  document.documentElement.dataset.ground = ground;
  return ground;
}

export const useShell = create<Shell>((set, get) => ({
  open: null,
  ground: show(localStorage.getItem(KEY) === "dark" ? "dark" : "light"),
  set,
  turnGround() {
    const ground = show(get().ground === "dark" ? "light" : "dark");
    localStorage.setItem(KEY, ground);
    set({ ground });
  },
}));
