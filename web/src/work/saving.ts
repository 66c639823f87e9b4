/** What the server has, and what it has not yet. */
import { client, type EditConflict, refusal } from "../api/client";
import { useSession } from "../session/session";
import { listAsNow } from "./adding";
import { ask } from "./asking";
import { keptAt } from "./drafts";
import { located } from "./pointer";
import { understood } from "./understood";
import { remember } from "./undoing";
import { useVocabulary } from "./vocabulary";
import type { GetWork, SetWork, Work } from "./work";

/** Where an unsaved document is kept in the browser. */
export const unsavedKey = (slug: string) => keptAt("unsaved", slug);
/** where a fault stands that is none of the input: it could not be sent */
export const LOST = "connection";

/** ms until it is tried again to reach the server */
export const RETRY = 1500;

let flushing: Promise<void> | null = null;
let retry: ReturnType<typeof setTimeout> | undefined;

export const isFlushing = () => flushing !== null;

export function saving(
  set: SetWork,
  get: GetWork,
): Pick<Work, "lose" | "settle" | "flush" | "refresh" | "adopt" | "restored"> {
  return {
    lose(signedOut) {
      set({ saving: signedOut ? "signed-out" : "offline" });
      if (!signedOut) tryLater(set, get);
    },

    async settle(mine) {
      const { conflict, document, machine } = get();
      if (!conflict || !document || !machine) return;
      if (mine) {
        set({ base: conflict.document, baseRevision: conflict.revision, conflict: null, saving: "saved" });
        await get().flush();
        return;
      }
      localStorage.removeItem(unsavedKey(machine.slug));
      set({ conflict: null, saving: "saved" });
      await get().refresh();
      const now = get().machine;
      if (now) await get().adopt(now);
    },

    flush() {
      flushing ??= sendUnsaved(set, get).finally(() => {
        flushing = null;
      });
      return flushing;
    },

    async refresh() {
      const { slug, saving, machine } = get();
      if (!slug || !machine || saving !== "saved") return; // while it is being opened there is nothing to refresh
      const { data, response } = await client
        .GET("/api/machines/{slug}", { params: { path: { slug } } })
        .catch(() => ({ data: undefined, response: undefined }));
      if (response?.status === 401) set({ saving: "signed-out" });
      if (!data || get().slug !== slug || get().saving !== "saved") return;
      const moved = data.changed !== machine?.changed || data.revision !== machine?.revision;
      if (moved && !get().looking) await get().adopt(data);
      else set({ machine: data });
    },

    async adopt(machine) {
      set({ machine, document: machine.document, base: machine.document, baseRevision: machine.revision });
      await ask(set, get);
    },

    async restored(machine) {
      const { looking, document } = get();
      const before = looking ? get().machine?.document : document;
      useSession.setState({ looksBack: false });
      set({ looking: null });
      await get().adopt(machine);
      remember(set, get, { key: "", before, after: machine.document, at: new Date().toISOString() });
    },
  };
}

/** Send what is not saved, one request after the other, until all is. */
async function sendUnsaved(set: SetWork, get: GetWork): Promise<void> {
  try {
    for (;;) {
      const { slug, document, base, baseRevision } = get();
      if (get().looking) return;
      if (!slug || !document || !base || JSON.stringify(document) === JSON.stringify(base)) {
        if (slug) localStorage.removeItem(unsavedKey(slug));
        set({ saving: "saved", trouble: null });
        return;
      }
      set({ saving: "saving" });
      const { data, error, response } = await client.PUT("/api/machines/{slug}", {
        params: { path: { slug } },
        body: { base_revision: baseRevision, base, document },
      });
      if (get().slug !== slug) return;
      if (data) {
        const merged = get().document === document && JSON.stringify(data.document) !== JSON.stringify(document);
        set({
          machine: data,
          base: merged ? data.document : document,
          baseRevision: data.revision,
          document: merged ? data.document : get().document,
        });
        if (merged) await ask(set, get);
        continue;
      }
      if (response.status === 409) set({ saving: "conflict", conflict: error as EditConflict });
      else if (response.status === 401) set({ saving: "signed-out" });
      else set({ saving: "refused", trouble: refusal(error) });
      return;
    }
  } catch {
    get().lose(false);
  }
}

/** Try again in a while whether there is a connection: one timer for all that waits for it. */
function tryLater(set: SetWork, get: GetWork) {
  clearTimeout(retry);
  retry = setTimeout(async () => {
    if (get().saving !== "offline" || !get().slug) return;
    if (!(await ask(set, get))) {
      if (get().saving === "offline") tryLater(set, get);
      return;
    }
    if (get().saving === "offline") set({ saving: "saved" });
    await get().flush();
    await resend(set, get);
  }, RETRY);
}

/** Send what was typed while it could not be sent; what is refused stays, with the reason. */
export async function resend(set: SetWork, get: GetWork): Promise<void> {
  if (get().looking) return;
  for (const draft of Object.values(get().drafts)) {
    if (draft.adding) {
      get().forget(draft.key);
      const { faults } = await get().add(draft.adding);
      if (faults[0]?.where === LOST) return; // it is kept again
      const refused = faults.map((fault) => fault.what).join(" ");
      if (refused) set({ drafts: { ...get().drafts, [draft.key]: { ...draft, refused } } });
      continue;
    }
    const pointer = located(get().document, draft.key, useVocabulary.getState().keys);
    if (pointer === null) {
      const gone = { ...draft, refused: "It is not in the Setup any more." };
      set({ drafts: { ...get().drafts, [draft.key]: gone } });
      continue;
    }
    let { value } = draft;
    if (draft.text !== undefined && draft.kind) {
      const found = await understood(draft.text, draft.kind, draft.unit ?? "mm", get().lose).catch(() => null);
      if (!found) return; // it still can't be asked
      if (found.value === null) {
        get().keep(pointer, { ...draft, refused: found.what });
        continue;
      }
      value = found.value;
    }
    const now = get().document;
    if ("base" in draft && now) value = await listAsNow(now, pointer, draft.base, value);
    if (value === undefined) return; // it still can't be asked
    const faults = await get().edit(pointer, value);
    if (faults[0]?.where === LOST) return;
    if (faults.length) get().keep(pointer, { ...draft, refused: faults.map((fault) => fault.what).join(" ") });
    else get().drop(pointer);
  }
}
