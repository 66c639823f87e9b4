/** Which machine is worked on, and on which stage. */
import { client, refusal } from "../api/client";
import { useSession } from "../session/session";
import { ask, found, lost, preview } from "./asking";
import { keptDrafts } from "./drafts";
import { RETRY, resend, unsavedKey } from "./saving";
import { keptSteps } from "./undoing";
import { useVocabulary } from "./vocabulary";
import type { GetWork, SetWork, Unsaved, Work } from "./work";

/** No machine is worked on. */
export const NOTHING = {
  slug: null,
  machine: null,
  missing: null,
  looking: null,
  document: null,
  base: null,
  baseRevision: 0,
  answer: null,
  answered: [],
  saving: "saved",
  trouble: null,
  conflict: null,
  undone: [],
  done: [],
  left: null,
  drafts: {},
  pair: null,
  picked: null,
  profile: null,
  fault: null,
  imported: null,
  measuring: { sequence: null, tools: [], setter: null, routine: null },
  byHand: [],
  focus: null,
  time: 0,
  block: 0,
  playing: false,
  chosen: null,
} satisfies Partial<Work>;

export function opening(set: SetWork, get: GetWork): Pick<Work, "open" | "close" | "look" | "lookBack"> {
  return {
    async open(slug) {
      if (get().slug === slug && get().machine) return;
      get().close();
      set({ slug });
      const answered = await client.GET("/api/machines/{slug}", { params: { path: { slug } } }).catch(() => null);
      if (get().slug !== slug) return;
      if (!answered) {
        set({ saving: "offline", slug: null });
        setTimeout(
          () => get().slug === null && location.pathname.startsWith(`/machines/${slug}/`) && void get().open(slug),
          RETRY,
        );
        return;
      }
      const { data, error, response } = answered;
      if (!data) {
        const gone = "There is no such machine in this shop.";
        set(
          response.status === 401
            ? { saving: "signed-out" }
            : { missing: response.status === 404 ? gone : refusal(error) },
        );
        return;
      }
      await useVocabulary.getState().load();
      const kept = localStorage.getItem(unsavedKey(slug));
      const unsaved = kept ? (JSON.parse(kept) as Unsaved) : null;
      const document = unsaved?.document ?? data.document;
      const { stage, measuring, byHand } = get();
      const question = {
        document,
        pair: null,
        profile: null,
        stage,
        imported: null,
        fault: null,
        measuring,
        byHand,
      };
      const answer = await preview(question).catch(lost(set, get));
      if (get().slug !== slug) return;
      set({
        saving: get().saving === "offline" ? "offline" : "saved",
        drafts: keptDrafts(slug),
        ...keptSteps(slug),
        machine: data,
        document,
        base: unsaved?.base ?? data.document,
        baseRevision: unsaved?.baseRevision ?? data.revision,
        ...(answer ? found(question, answer) : { answer, pair: null }),
      });
      if (get().stage !== question.stage) await ask(set, get); // gone to another stage meanwhile
      if (unsaved) await get().flush();
      await resend(set, get);
    },

    close() {
      useSession.setState({ looksBack: false });
      set(NOTHING);
    },

    async lookBack(number) {
      const { slug, machine, looking, saving } = get();
      if (!slug || !machine || (saving !== "saved" && !looking)) return true; // what is not saved yet is not left behind
      if (number === (looking?.number ?? null)) return true;
      if (number === null || number === machine.revision) {
        useSession.setState({ looksBack: false });
        set({ looking: null, left: null });
        await get().adopt(machine);
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
        if (!answered || answered.response.status === 401) get().lose(Boolean(answered));
        return answered?.response.status !== 404;
      }
      useSession.setState({ looksBack: true });
      const { author, changed, document } = data;
      set({ looking: { number, author, changed }, document, base: document });
      await ask(set, get);
      return true;
    },

    async look(stage) {
      if (get().stage === stage) return;
      set({ stage, byHand: [] });
      await ask(set, get);
    },
  };
}
