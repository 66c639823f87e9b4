/** Which probe is looked at: its place in the document, and what follows from it. */
import { create } from "zustand";
import type { DerivedProbe, Probe } from "../../api/client";
import { usePreview, useSetup } from "../../work/document";

const useChosen = create<{ name: string }>(() => ({ name: "" }));

export const chooseProbe = (name: string) => useChosen.setState({ name });

export function useProbe(): { index: number; probe: Probe | undefined; derived: DerivedProbe | undefined } {
  const name = useChosen((chosen) => chosen.name);
  const probes = useSetup((setup) => setup?.probes);
  const derived = usePreview((answer) => answer?.probing?.probes);
  const index = Math.max(0, probes?.findIndex((entry) => entry.name === name) ?? 0);
  return { index, probe: probes?.[index], derived: derived?.[index] };
}
