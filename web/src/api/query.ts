/** Questions to the server that a screen shows the answer of: asked once, kept, asked again, and reported where there is no answer. */
import { QueryClient, skipToken, useQuery } from "@tanstack/react-query";
import { noConnection, refusal } from "./client";

const AGAIN = 2000;

class Unanswered extends Error {
  /** `lost`: there is no connection; it is asked again. */
  constructor(
    says: string,
    readonly lost: boolean,
  ) {
    super(says);
  }
}

export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      networkMode: "always", // the browser's word for being online says nothing of this server
      refetchOnWindowFocus: false,
      retry: (_, failed) => failed instanceof Unanswered && failed.lost,
      retryDelay: AGAIN,
    },
  },
});

type Answering<Data> = Promise<{ data?: Data; error?: unknown }>;

/** The data of an answer; what was refused, or that there is no connection, is thrown as its sentence. */
export async function dataOf<Data>(answering: Answering<Data>): Promise<Data> {
  let lost = false;
  const { data, error } = await answering.catch(() => {
    lost = true;
    return noConnection();
  });
  if (error !== undefined) throw new Unanswered(refusal(error), lost);
  return data as Data;
}

interface Answered<Data> {
  data: Data | undefined;
  /** why there is no answer, "" there is one, or it is on its way */
  trouble: string;
  refetch: () => Promise<unknown>;
}

interface How<Data> {
  /** ask again after so many milliseconds; false: no more */
  every?: (data: Data | undefined) => number | false;
  /** the answer never changes while the page is open */
  fixed?: boolean;
  /** show the answer before until the next one is there, where so many parts of their keys are the same */
  keep?: number;
}

/** An answer as it is kept: that there is nothing (null) is one too. */
interface Kept<Data> {
  is: Data;
}

export type Key = readonly unknown[];

/** The answer to a question. `key` tells it from all others, and what it depends on; null: nothing is asked. */
export function useAnswer<Data>(key: Key | null, ask: () => Answering<Data>, how: How<Data> = {}): Answered<Data> {
  const query = useQuery<Kept<Data>, Error, Kept<Data>, Key>(
    {
      queryKey: key ?? ["nothing"],
      queryFn: async () => ({ is: await dataOf(ask()) }),
      enabled: key !== null,
      staleTime: how.fixed ? Number.POSITIVE_INFINITY : 0,
      gcTime: how.fixed ? Number.POSITIVE_INFINITY : 0,
      refetchInterval: (known) => how.every?.(known.state.data?.is) ?? false,
      placeholderData: (before, asked) => (isOfSame(key, asked?.queryKey, how.keep) ? before : undefined),
    },
    queries,
  );
  return { data: query.data?.is, trouble: query.failureReason?.message ?? "", refetch: query.refetch };
}

/** Whether an answer before is of the same thing: another machine's or quantity's must not be shown in its place. */
function isOfSame(key: Key | null, before: Key | undefined, parts = 0): boolean {
  return parts > 0 && !!key && !!before && key.slice(0, parts).every((part, index) => part === before[index]);
}

/** The answer as it is known, without asking: another part of the screen asks. */
export function useKnown<Data>(key: Key): Data | undefined {
  return useQuery<Kept<Data>, Error, Kept<Data>, Key>(
    { queryKey: key, queryFn: skipToken, gcTime: Number.POSITIVE_INFINITY },
    queries,
  ).data?.is;
}

/** Ask anew for what has changed. */
export const askAnew = (key: Key) => queries.invalidateQueries({ queryKey: key });

/** What is known of an answer without asking; undefined: nothing. */
export function knownOf<Data>(key: Key): Data | undefined {
  return queries.getQueryData<Kept<Data>>(key)?.is;
}

/** An answer that came with another one. */
export function learn<Data>(key: Key, is: Data): void {
  queries.setQueryData<Kept<Data>>(key, { is });
}

const named = new WeakMap<object, number>();
let count = 0;

/** A short name for a document in a key: the same object, the same name. */
export function nameOf(document: object | null): number {
  if (!document) return 0;
  if (!named.has(document)) named.set(document, ++count);
  return named.get(document) as number;
}
