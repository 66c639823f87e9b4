/** The stages that are built, a folder each. */
import type { StageView } from "./stage";

const found = import.meta.glob<StageView>("./*/index.ts", { eager: true, import: "default" });

export const STAGES: Record<string, StageView> = Object.fromEntries(
  Object.values(found).map((stage) => [stage.name, stage]),
);
