/** The kinds of routines, a folder each. */
import type { RoutineView } from "./kind";

const found = import.meta.glob<RoutineView>("./*/index.ts", { eager: true, import: "default" });

export const KINDS: RoutineView[] = Object.values(found).sort((one, other) => one.order - other.order);
