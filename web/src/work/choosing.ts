/** Which exchange is looked at, in which profile. What played stops at once; who presses Space while the answer is awaited sees the new one play. */
import { ask } from "./asking";
import { type GetWork, playedOf, type SetWork, type Work } from "./work";

export function choosing(
  set: SetWork,
  get: GetWork,
): Pick<Work, "visit" | "choose" | "pick" | "show" | "importProgram" | "measure" | "setByHand" | "undisturbed"> {
  return {
    async visit(place) {
      set({ ...place, picked: null, imported: null, byHand: [], playing: false });
      await ask(set, get, { time: 0, block: 0, chosen: null });
    },

    async choose(pair, finding, fault = null) {
      if (!get().document) return;
      set({ pair, picked: null, fault, byHand: [], playing: false });
      const fresh = { time: 0, block: 0, chosen: null };
      const answer = await ask(set, get, fresh);
      if (!answer) return;
      const under = playedOf({ answer })?.under;
      if (finding) {
        const same = playedOf({ answer })?.findings.find(
          (f) => f.check === finding.check && f.message === finding.message,
        );
        get().goTo(same ?? finding);
      } else if (under?.finding) {
        const { check, line } = under.finding;
        const reported = playedOf({ answer })?.findings.find((f) => f.check === check && f.line === line);
        get().goTo(reported ?? { ...under.finding, message: under.says });
      }
    },

    pick(tool) {
      const { picked } = get();
      if (picked === null) set({ picked: tool });
      else if (picked === tool) set({ picked: null });
      else void get().choose({ from: picked, to: tool });
    },

    async undisturbed() {
      set({ fault: null, byHand: [], playing: false });
      await ask(set, get, { time: 0, block: 0, chosen: null });
    },

    async measure(wanted, fault = null) {
      set({ measuring: { ...get().measuring, ...wanted }, imported: null, fault, byHand: [], playing: false });
      await ask(set, get, { time: 0, block: 0, chosen: null });
    },

    async setByHand(byHand) {
      const { time, block } = get();
      set({ byHand, playing: false });
      await ask(set, get, { time, block, chosen: null });
    },

    async importProgram(imported) {
      set({ imported, byHand: [], playing: false });
      await ask(set, get, { time: 0, block: 0, chosen: null });
    },

    async show(profile) {
      if (!get().document) return;
      set({ profile, imported: null, byHand: [], playing: false });
      await ask(set, get, { time: 0, block: 0, chosen: null });
    },
  };
}
