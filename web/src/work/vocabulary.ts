/** The core's own words, asked for once: roles of signals, and what tells the entries of the document's lists apart. */
import { create } from "zustand";
import { client, type Vocabulary } from "../api/client";

interface Words extends Vocabulary {
  load: () => Promise<void>;
}

export const useVocabulary = create<Words>((set, get) => ({
  input_roles: [],
  output_roles: [],
  keys: {},
  async load() {
    if (get().input_roles.length) return;
    const { data } = await client.GET("/api/vocabulary").catch(() => ({ data: undefined }));
    if (data) set(data);
  },
}));
