/** Which setter is looked at: its place in the document, and what follows from it. */
import type { SetterAnswer } from "../../api/client";
import { useWork } from "../../work/store";

export function useSetter(): { index: number; answer: SetterAnswer | undefined } {
  const measuring = useWork((work) => work.answer?.measuring);
  const setters = useWork((work) => work.document?.setters);
  const index = Math.max(0, setters?.findIndex((entry) => entry.name === measuring?.setter) ?? 0);
  return { index, answer: measuring?.setters[index] };
}
