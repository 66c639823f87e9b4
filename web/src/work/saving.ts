/** What the server has, and what it has not yet. */
import { client, type EditConflict, type Machine, refusal } from "../api/client";
import { useSession } from "../session/session";
import { ask } from "./asking";
import { lose, useDocument } from "./document";
import { keptAt } from "./drafts";
import { remember } from "./undoing";

const { setState: set, getState: get } = useDocument;

/** Where an unsaved document is kept in the browser. */
export const unsavedKey = (slug: string) => keptAt("unsaved", slug);

let flushing: Promise<void> | null = null;

export const isFlushing = () => flushing !== null;

/** Save what is not saved yet. */
export function flush(): Promise<void> {
  flushing ??= sendUnsaved().finally(() => {
    flushing = null;
  });
  return flushing;
}

/** Settle a conflict: keep what was entered here, or take what others have saved. */
export async function settle(mine: boolean) {
  const { conflict, document, machine } = get();
  if (!conflict || !document || !machine) return;
  if (mine) {
    set({ base: conflict.document, baseRevision: conflict.revision, conflict: null, saving: "saved" });
    await flush();
    return;
  }
  localStorage.removeItem(unsavedKey(machine.slug));
  set({ conflict: null, saving: "saved" });
  await refresh();
  const now = get().machine;
  if (now) await adopt(now);
}

/** Take over what others have changed, if nothing is on its way. */
export async function refresh() {
  const { slug, saving, machine } = get();
  if (!slug || !machine || saving !== "saved") return; // while it is being opened there is nothing to refresh
  const { data, response } = await client
    .GET("/api/machines/{slug}", { params: { path: { slug } } })
    .catch(() => ({ data: undefined, response: undefined }));
  if (response?.status === 401) set({ saving: "signed-out" });
  if (!data || get().slug !== slug || get().saving !== "saved") return;
  const moved = data.changed !== machine?.changed || data.revision !== machine?.revision;
  if (moved && !get().looking) await adopt(data);
  else set({ machine: data });
}

/** Work on a machine as the server has it. */
export async function adopt(machine: Machine) {
  set({ machine, document: machine.document, base: machine.document, baseRevision: machine.revision });
  await ask();
}

/** An earlier revision has become the newest; undo takes it back. */
export async function restored(machine: Machine) {
  const { looking, document } = get();
  const before = looking ? get().machine?.document : document;
  useSession.setState({ looksBack: false });
  set({ looking: null });
  await adopt(machine);
  remember({ key: "", before, after: machine.document, at: new Date().toISOString() });
}

/** Send what is not saved, one request after the other, until all is. */
async function sendUnsaved(): Promise<void> {
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
        if (merged) await ask();
        continue;
      }
      if (response.status === 409) set({ saving: "conflict", conflict: error as EditConflict });
      else if (response.status === 401) set({ saving: "signed-out" });
      else set({ saving: "refused", trouble: refusal(error) });
      return;
    }
  } catch {
    lose(false);
  }
}
