/** The moment that is looked at. */
import { blockAt } from "../trace/evaluate";
import { type GetWork, type SetWork, traceOf, type Work } from "./work";

export function playing(set: SetWork, get: GetWork): Pick<Work, "setFocus" | "seek" | "step" | "goTo" | "play"> {
  return {
    setFocus: (focus) => set({ focus }),

    seek(time) {
      const trace = traceOf(get());
      if (!trace) return;
      const t = Math.min(Math.max(0, time), trace.seconds);
      set({ time: t, block: t > 0 ? blockAt(trace, t) : 0 });
    },

    step(by) {
      const trace = traceOf(get());
      if (!trace) return;
      const block = Math.min(Math.max(0, get().block + by), trace.blocks.length - 1);
      set({ block, time: trace.blocks[block]?.end_seconds ?? 0, playing: false });
    },

    goTo(finding) {
      set({ chosen: finding, playing: false, focus: finding.quantity });
      const trace = traceOf(get());
      if (!trace) return;
      if (finding.at_seconds !== null) set({ time: finding.at_seconds });
      const near = trace.blocks
        .map((block, index) => ({ block, index }))
        .filter(({ block }) => block.line === finding.line);
      const at = finding.at_seconds;
      const within = near.find(
        ({ block }) => at !== null && block.start_seconds <= at && at <= block.end_seconds + 1e-9,
      );
      const found = within ?? near[0];
      if (found) set({ block: found.index, time: at ?? found.block.end_seconds });
    },

    play(playing) {
      const trace = traceOf(get());
      if (!trace) return;
      if (playing && get().time >= trace.seconds - 1e-6) set({ time: 0, block: 0 });
      set(playing ? { playing, chosen: null } : { playing });
    },
  };
}
