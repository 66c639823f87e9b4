/** Which probe is looked at: its place in the document, and what follows from it. */
import { create } from "zustand";
import type { DerivedProbe, Probe } from "../../api/client";
import { useWork } from "../../work/store";

const useChosen = create<{ name: string }>(() => ({ name: "" }));

export const chooseProbe = (name: string) => useChosen.setState({ name });

export function useProbe(): { index: number; probe: Probe | undefined; derived: DerivedProbe | undefined } {
  const name = useChosen((chosen) => chosen.name);
  const probes = useWork((work) => work.document?.probes);
  const derived = useWork((work) => work.answer?.probing?.probes);
  const index = Math.max(0, probes?.findIndex((entry) => entry.name === name) ?? 0);
  return { index, probe: probes?.[index], derived: derived?.[index] };
}
