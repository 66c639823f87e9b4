/** Which setter is looked at: its place in the document, and what follows from it. */
import type { SetterAnswer } from "../../api/client";
import { usePreview, useSetup } from "../../work/document";

export function useSetter(): { index: number; answer: SetterAnswer | undefined } {
  const measuring = usePreview((answer) => answer?.measuring);
  const setters = useSetup((setup) => setup?.setters);
  const index = Math.max(0, setters?.findIndex((entry) => entry.name === measuring?.setter) ?? 0);
  return { index, answer: measuring?.setters[index] };
}
