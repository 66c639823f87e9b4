/** Which machine is worked on, and which revision of it. */
import { client, refusal } from "../api/client";
import { useSession } from "../session/session";
import { ask, lost, preview, show } from "./asking";
import { lose, NO_DOCUMENT, type Unsaved, useDocument } from "./document";
import { keptDrafts } from "./drafts";
import { AT_START, usePlayback } from "./playback";
import { RETRY, resend } from "./resending";
import { adopt, flush, unsavedKey } from "./saving";
import { NO_SELECTION, useSelection } from "./selection";
import { keptSteps } from "./undoing";
import { useVocabulary } from "./vocabulary";

const { setState: set, getState: get } = useDocument;

/** Work on a machine: with what was entered and not saved, and what was typed and not sent. */
export async function openMachine(slug: string) {
  if (get().slug === slug && get().machine) return;
  closeMachine();
  set({ slug });
  const answered = await client.GET("/api/machines/{slug}", { params: { path: { slug } } }).catch(() => null);
  if (get().slug !== slug) return;
  if (!answered) {
    set({ saving: "offline", slug: null });
    setTimeout(
      () => get().slug === null && location.pathname.startsWith(`/machines/${slug}/`) && void openMachine(slug),
      RETRY,
    );
    return;
  }
  const { data, error, response } = answered;
  if (!data) {
    const gone = "There is no such machine in this shop.";
    set(
      response.status === 401 ? { saving: "signed-out" } : { missing: response.status === 404 ? gone : refusal(error) },
    );
    return;
  }
  await useVocabulary.getState().load();
  const kept = localStorage.getItem(unsavedKey(slug));
  const unsaved = kept ? (JSON.parse(kept) as Unsaved) : null;
  const document = unsaved?.document ?? data.document;
  const selection = useSelection.getState();
  const answer = await preview(document, selection).catch(lost);
  if (get().slug !== slug) return;
  set({
    saving: get().saving === "offline" ? "offline" : "saved",
    drafts: keptDrafts(slug),
    ...keptSteps(slug),
    machine: data,
    document,
    base: unsaved?.base ?? data.document,
    baseRevision: unsaved?.baseRevision ?? data.revision,
    answer,
  });
  if (answer) show(document, selection, answer);
  if (useSelection.getState().stage !== selection.stage) await ask(); // gone to another stage meanwhile
  if (unsaved) await flush();
  await resend();
}

/** Work on no machine. */
export function closeMachine() {
  useSession.setState({ looksBack: false });
  set(NO_DOCUMENT);
  useSelection.setState(NO_SELECTION);
  usePlayback.setState({ ...AT_START, playing: false });
}

/** Look at an earlier revision on every stage, or at the newest again (null); whether that is there. */
export async function lookBack(number: number | null): Promise<boolean> {
  const { slug, machine, looking, saving } = get();
  if (!slug || !machine || (saving !== "saved" && !looking)) return true; // what is not saved yet is not left behind
  if (number === (looking?.number ?? null)) return true;
  if (number === null || number === machine.revision) {
    useSession.setState({ looksBack: false });
    set({ looking: null, left: null });
    await adopt(machine);
    return true;
  }
  const answered = await client
    .GET("/api/machines/{slug}/revisions/{number}", { params: { path: { slug, number } } })
    .catch(() => null);
  if (get().slug !== slug) return true;
  // What was entered while it was asked for is not left behind, nor sent as a change of what is looked at.
  if (!get().looking && (get().saving !== "saved" || get().entering)) return true;
  const data = answered?.data;
  if (!data) {
    if (!answered || answered.response.status === 401) lose(Boolean(answered));
    return answered?.response.status !== 404;
  }
  useSession.setState({ looksBack: true });
  const { author, changed, document } = data;
  set({ looking: { number, author, changed }, document, base: document });
  await ask();
  return true;
}
