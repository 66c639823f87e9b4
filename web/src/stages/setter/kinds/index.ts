/** The kinds of setter, a file each. None is known by name elsewhere. */
import type { SetterView } from "./kind";

const found = import.meta.glob<SetterView>("./*/index.ts", { eager: true, import: "default" });

export const KINDS: SetterView[] = Object.values(found);
