/** The readings of the machine that is worked on: what was measured for which quantity, where, when and by whom. */
import { create } from "zustand";
import { client, type Reading, type RunOf, refusal } from "../api/client";
import { useDocument } from "../work/document";
import { edit } from "../work/editing";
import { flush } from "../work/saving";

interface Readings {
  slug: string | null;
  list: Reading[];
  load: (slug: string) => Promise<void>;
  /** Keep a reading and put its value where it belongs; what went wrong, or "". */
  take: (body: TakeBody) => Promise<string>;
  series: (quantity: string, readings: number[]) => Promise<string>;
}

interface TakeBody {
  quantity: string;
  source: "machine" | "typed" | "dial" | "read-back";
  seen?: number[] | null;
  value?: number | null;
  came?: number;
  /** how a typed value came about */
  how?: string;
  /** what it was measured with, when, and what it is uncertain by */
  rests_on?: RunOf["rests_on"];
  measured?: string | null;
  half_width_95?: number | null;
}

export const useReadings = create<Readings>((set, get) => ({
  slug: null,
  list: [],

  async load(slug) {
    if (get().slug !== slug) set({ slug, list: [] });
    const { data } = await client
      .GET("/api/machines/{slug}/readings", { params: { path: { slug } } })
      .catch(() => ({ data: undefined }));
    if (data && get().slug === slug) set({ list: data });
  },

  async take(body) {
    const { slug } = useDocument.getState();
    if (!slug) return "";
    await flush();
    const answer = await client
      .POST("/api/machines/{slug}/readings", {
        params: { path: { slug } },
        body: {
          came: 0,
          how: "",
          rests_on: {},
          measured: null,
          half_width_95: null,
          ...body,
          seen: body.seen ?? null,
          value: body.value ?? null,
        },
      })
      .catch(() => null);
    if (!answer?.data) return answer ? refusal(answer.error) : "No connection to the server; the reading was not kept.";
    return put(answer.data, set, get);
  },

  async series(quantity, readings) {
    const { slug } = useDocument.getState();
    if (!slug) return "";
    const answer = await client
      .POST("/api/machines/{slug}/series", { params: { path: { slug } }, body: { quantity, readings } })
      .catch(() => null);
    if (!answer?.data) return answer ? refusal(answer.error) : "No connection to the server; nothing was kept.";
    return put(answer.data, set, get);
  },
}));

interface Taken {
  reading: Reading;
  edit_at?: string | null;
  edit?: unknown;
}

async function put(taken: Taken, set: (part: Partial<Readings>) => void, get: () => Readings): Promise<string> {
  set({ list: [taken.reading, ...get().list] });
  if (!taken.edit_at) return "";
  const faults = await edit(taken.edit_at, taken.edit);
  return faults.map((fault) => fault.what).join(" ");
}

/** The reading that a quantity's value came from: the newest of that quantity with that value; null: it was typed. */
export function readingOf(list: Reading[], pointer: string, value: unknown): Reading | null {
  return (
    list.find((r) => r.pointer === pointer && r.source !== "read-back" && r.source !== "dial" && r.value === value) ??
    null
  );
}
