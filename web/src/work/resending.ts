/** What could not be sent, as soon as there is a connection again. */
import { listAsNow } from "./adding";
import { ask } from "./asking";
import { lose, useDocument } from "./document";
import { addToSetup, drop, edit, forget, keep } from "./editing";
import { located } from "./pointer";
import { flush } from "./saving";
import { understood } from "./understood";
import { LOST } from "./unsent";
import { useVocabulary } from "./vocabulary";

/** ms until it is tried again to reach the server */
export const RETRY = 1500;

const { setState: set, getState: get } = useDocument;

let retry: ReturnType<typeof setTimeout> | undefined;

useDocument.subscribe((now, before) => {
  if (now.saving === "offline" && before.saving !== "offline") tryLater();
});

/** Try again in a while whether there is a connection: one timer for all that waits for it. */
function tryLater() {
  clearTimeout(retry);
  retry = setTimeout(async () => {
    if (get().saving !== "offline" || !get().slug) return;
    if (!(await ask())) {
      if (get().saving === "offline") tryLater();
      return;
    }
    if (get().saving === "offline") set({ saving: "saved" });
    await flush();
    await resend();
  }, RETRY);
}

/** Send what was typed while it could not be sent; what is refused stays, with the reason. */
export async function resend(): Promise<void> {
  if (get().looking) return;
  for (const draft of Object.values(get().drafts)) {
    if (draft.adding) {
      forget(draft.key);
      const { faults } = await addToSetup(draft.adding);
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
      const found = await understood(draft.text, draft.kind, draft.unit ?? "mm", lose).catch(() => null);
      if (!found) return; // it still can't be asked
      if (found.value === null) {
        keep(pointer, { ...draft, refused: found.what });
        continue;
      }
      value = found.value;
    }
    const now = get().document;
    if ("base" in draft && now) value = await listAsNow(now, pointer, draft.base, value);
    if (value === undefined) return; // it still can't be asked
    const faults = await edit(pointer, value);
    if (faults[0]?.where === LOST) return;
    if (faults.length) keep(pointer, { ...draft, refused: faults.map((fault) => fault.what).join(" ") });
    else drop(pointer);
  }
}
