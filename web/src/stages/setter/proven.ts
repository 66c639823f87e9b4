/** What measuring each tool came to: tool after tool, kept with the document that it was worked out for. */
import { create } from "zustand";
import { client, noConnection, refusal, type Setup, type ToolResult } from "../../api/client";
import { useWork } from "../../work/store";

interface Proven {
  document: Setup | null;
  results: Record<number, ToolResult>;
  /** why a tool has none */
  why: Record<number, string>;
  /** how many are done of how many; null: nothing goes on */
  progress: [number, number] | null;
  prove: () => Promise<void>;
  stop: () => void;
}

let turn = 0;

export const useProven = create<Proven>((set, get) => ({
  document: null,
  results: {},
  why: {},
  progress: null,

  async prove() {
    const { document } = useWork.getState();
    if (!document) return;
    const mine = ++turn;
    const tools = document.tools.map((tool) => tool.number);
    set({ document, results: {}, why: {}, progress: [0, tools.length] });
    for (const [at, tool] of tools.entries()) {
      const { data, error } = await client.POST("/api/setter/proof", { body: { document, tool } }).catch(noConnection);
      if (mine !== turn) return;
      if (data) set({ results: { ...get().results, [tool]: data } });
      else set({ why: { ...get().why, [tool]: refusal(error) } });
      set({ progress: [at + 1, tools.length] });
    }
    set({ progress: null });
  },

  stop() {
    turn++;
    set({ progress: null });
  },
}));
