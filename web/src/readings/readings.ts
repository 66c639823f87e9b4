/** The readings of the machine that is worked on: what was measured for which quantity, where, when and by whom. */
import { client, type Reading, type RunOf, refusal } from "../api/client";
import { askAnew, knownOf, learn, useAnswer, useKnown } from "../api/query";
import { slugNow, useSlug } from "../work/document";
import { edit } from "../work/editing";
import { flush } from "../work/saving";

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

const NONE: Reading[] = [];

const keyOf = (slug: string | null) => ["readings", slug] as const;

/** Ask for the readings of a machine; one part of the screen does, the others show them. */
export function useLoadedReadings(slug: string | null) {
  useAnswer(slug ? keyOf(slug) : null, () =>
    client.GET("/api/machines/{slug}/readings", { params: { path: { slug: slug ?? "" } } }),
  );
}

/** Those of the machine that is worked on, the newest first. */
export function useReadings(): Reading[] {
  return useKnown<Reading[]>(keyOf(useSlug())) ?? NONE;
}

/** Others were kept by a request of its own. */
export const readingsChanged = (slug: string) => askAnew(keyOf(slug));

/** Keep a reading and put its value where it belongs; what went wrong, or "". */
export async function takeReading(body: TakeBody): Promise<string> {
  const slug = slugNow();
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
  return put(slug, answer.data);
}

/** Keep the mean of several readings as one; what went wrong, or "". */
export async function takeSeries(quantity: string, readings: number[]): Promise<string> {
  const slug = slugNow();
  if (!slug) return "";
  const answer = await client
    .POST("/api/machines/{slug}/series", { params: { path: { slug } }, body: { quantity, readings } })
    .catch(() => null);
  if (!answer?.data) return answer ? refusal(answer.error) : "No connection to the server; nothing was kept.";
  return put(slug, answer.data);
}

interface Taken {
  reading: Reading;
  edit_at?: string | null;
  edit?: unknown;
}

async function put(slug: string, taken: Taken): Promise<string> {
  learn(keyOf(slug), [taken.reading, ...(knownOf<Reading[]>(keyOf(slug)) ?? [])]);
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
