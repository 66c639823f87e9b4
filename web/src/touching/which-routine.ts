/** Which routine is looked at: its place in the document (−1: one that qualifies a probe), and what follows from it. */
import type { Probing, Routine } from "../api/client";
import { chooseMeasuring } from "../work/choosing";
import { usePreview, useSetup } from "../work/document";

export function useRoutine(): { index: number; routine: Routine | undefined; answer: Probing | undefined } {
  const answer = usePreview((answer) => answer?.probing) ?? undefined;
  const routines = useSetup((setup) => setup?.routines);
  const index = routines?.findIndex((entry) => entry.name === answer?.routine) ?? -1;
  return { index, routine: routines?.[index], answer };
}

/** Look at a routine. */
export const choose = (routine: string, fault: string | null = null) => void chooseMeasuring({ routine }, fault);
