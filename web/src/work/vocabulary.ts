/** The core's own words, asked for once: roles of signals, faults and verdicts, a style's words for its heights, and what tells the
 * entries of the document's lists apart. */
import { create } from "zustand";
import { client, type Vocabulary } from "../api/client";

interface Words extends Vocabulary {
  load: () => Promise<void>;
}

export const useVocabulary = create<Words>((set, get) => ({
  input_roles: [],
  touch_roles: [],
  output_roles: [],
  keys: {},
  faults: {},
  purposes: {},
  verdicts: { safe: "safe", unsafe: "unsafe", undetectable: "undetectable" },
  styles: {},
  setter_kinds: {},
  probe_kinds: {},
  tool_types: [],
  machine_kinds: {},
  quantities: {},
  unkeyed: [],
  async load() {
    if (get().input_roles.length) return;
    const { data } = await client.GET("/api/vocabulary").catch(() => ({ data: undefined }));
    if (data) set(data);
  },
}));

/** What a fault is called. */
export function useFaultName(): (fault: string) => string {
  const faults = useVocabulary((words) => words.faults);
  return (fault) => faults[fault] ?? fault;
}
