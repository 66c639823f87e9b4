/** The kinds of routines, a folder each. */
import type { RoutineView } from "./kind";

const found = import.meta.glob<RoutineView>("./*/index.ts", { eager: true, import: "default" });

const ORDER: RoutineView["kind"][] = [
  "surface",
  "edge",
  "outside corner",
  "inside corner",
  "bore",
  "boss",
  "slot",
  "web",
  "rectangular pocket",
  "rectangular block",
  "angle",
  "bore pattern",
  "step height",
  "fixed corner",
];

export const KINDS: RoutineView[] = Object.values(found).sort(
  (one, other) => ORDER.indexOf(one.kind) - ORDER.indexOf(other.kind),
);
