/** The kinds of probes, a folder each. */
import type { Probe } from "../../../api/client";
import type { ProbeView } from "./kind";

const found = import.meta.glob<ProbeView>("./*/index.ts", { eager: true, import: "default" });

export const KINDS: ProbeView[] = Object.values(found).sort((one, other) => other.label.localeCompare(one.label));

export const viewOf = (probe: Probe) => KINDS.find((entry) => entry.kind === probe.kind);
