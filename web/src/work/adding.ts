/** What the server adds to a document, and what was added to a list while there was no connection. */
import { client, type Setup } from "../api/client";
import type { Adding } from "./drafts";
import { read, write } from "./pointer";

/** Have the server add something to a document. */
export async function asked(document: Setup, { what, body }: Adding) {
  const { where = "", kind = "", input = null, tool = null, value = "", entry = {} } = body ?? {};
  const ways = {
    changer: () => client.POST("/api/adding/changer", { body: { document, style: kind } }),
    setter: () => client.POST("/api/adding/setter", { body: { document, kind, input } }),
    probe: () => client.POST("/api/adding/probe", { body: { document, kind, input, tool } }),
    tool: () => client.POST("/api/adding/tool", { body: { document } }),
    entry: () => client.POST("/api/adding/entry", { body: { document, where, entry: { ...entry } } }),
    rename: () => client.POST("/api/adding/rename", { body: { document, where, value } }),
    "touch-input": () => client.POST("/api/adding/touch-input", { body: { document, where } }),
  };
  const answered = await ways[what]().catch(() => null);
  return { data: answered?.data, error: answered?.error, status: answered?.response.status };
}

/** Add to a list, as it is now, what was added to it while there was no connection; undefined: it can't be asked. */
export async function listAsNow(document: Setup, pointer: string, base: unknown, mine: unknown) {
  const [was, is] = [write(document, pointer, base), write(document, pointer, mine)] as [Setup, Setup];
  const { data } = await client
    .POST("/api/merge", { body: { base: was, mine: is, theirs: document } })
    .catch(() => ({ data: undefined }));
  return data && read(data.document, pointer);
}
