/** The moment of the sequence that is looked at. */
import { create } from "zustand";
import type { Finding } from "../api/client";
import { blockAt } from "../trace/evaluate";
import { traceNow, useTrace } from "./document";
import { setFocus } from "./selection";

export interface Playback {
  time: number;
  block: number;
  playing: boolean;
  /** the finding that was gone to */
  chosen: Finding | null;
}

export const AT_START = { time: 0, block: 0, chosen: null } satisfies Partial<Playback>;

export const usePlayback = create<Playback>(() => ({ ...AT_START, playing: false }));

const { setState: set, getState: get } = usePlayback;

/** The line of the program's text that is run at the moment; 0: none. */
export function useLine(): number {
  const trace = useTrace();
  return usePlayback(({ block }) => trace?.blocks[block]?.line ?? 0);
}

export function seek(time: number) {
  const trace = traceNow();
  if (!trace) return;
  const t = Math.min(Math.max(0, time), trace.seconds);
  set({ time: t, block: t > 0 ? blockAt(trace, t) : 0 });
}

export function step(by: number) {
  const trace = traceNow();
  if (!trace) return;
  const block = Math.min(Math.max(0, get().block + by), trace.blocks.length - 1);
  set({ block, time: trace.blocks[block]?.end_seconds ?? 0, playing: false });
}

export function goTo(finding: Finding) {
  setFocus(finding.quantity);
  set({ chosen: finding, playing: false });
  const trace = traceNow();
  if (!trace) return;
  if (finding.at_seconds !== null) set({ time: finding.at_seconds });
  const near = trace.blocks
    .map((block, index) => ({ block, index }))
    .filter(({ block }) => block.line === finding.line);
  const at = finding.at_seconds;
  const within = near.find(({ block }) => at !== null && block.start_seconds <= at && at <= block.end_seconds + 1e-9);
  const found = within ?? near[0];
  if (found) set({ block: found.index, time: at ?? found.block.end_seconds });
}

export function play(playing: boolean) {
  const trace = traceNow();
  if (!trace) return;
  if (playing && get().time >= trace.seconds - 1e-6) set({ time: 0, block: 0 });
  set(playing ? { playing, chosen: null } : { playing });
}
