/** What a stage plays stands in the address, and what the address asks for is played. */

import { useEffect, useRef, useState } from "react";
import type { Answer, Finding } from "../api/client";
import { findingPart } from "../findings/part";
import { playedAs } from "../sequences";
import type { Place, SequenceView, Shown } from "../sequences/sequence";
import { note, type Parts, tellGone, useParts } from "../session/address";
import type { StageView } from "../stages/stage";
import { isCurrentNow, useCurrent } from "../work/asking";
import { visit } from "../work/choosing";
import { playedOf, previewNow, useDocument } from "../work/document";
import { goTo, seek, usePlayback } from "../work/playback";
import { useSelection } from "../work/selection";
import { useVocabulary } from "../work/vocabulary";

/** ms that a moment is looked at before it stands in the address */
const SETTLED = 250;

const shownNow = (): Shown => ({ ...useDocument.getState(), ...useSelection.getState() });

/** What the address asks to be played, as the work takes it; what is not there any more is reported. */
function placeOf(asked: Parts, view: SequenceView): Place {
  const shown = shownNow();
  const { faults } = useVocabulary.getState();
  const profiles = playedOf(shown)?.texts.map((text) => text.profile) ?? [];
  const gone = (what: string) => tellGone(`${what} is not in the Setup any more.`);
  const fault = asked.fault && asked.fault in faults ? asked.fault : null;
  if (asked.fault && !fault) tellGone(`There is no fault “${asked.fault}”.`);
  const profile = profiles.find((name) => name === asked.profile) ?? null;
  if (asked.profile && !profile) gone(`The control profile “${asked.profile}”`);
  return { ...view.place(asked, shown, gone), fault, profile };
}

/** Every finding that a stage tells. */
function findingsOf(answer: Answer | null): Finding[] {
  if (!answer) return [];
  const ways = answer.machine?.ways.flatMap((way) => way.findings) ?? [];
  const others = [...(answer.machine?.findings ?? []), ...(answer.signals?.findings ?? [])];
  return [...(playedOf({ answer })?.findings ?? []), ...answer.conflicts, ...ways, ...others];
}

/** Keeps the address and what a stage plays together; shows nothing. */
export function Following({ stage }: { stage: StageView }) {
  const selection = useSelection();
  const shown = { ...useDocument(), ...selection };
  const ready = useCurrent() && selection.stage === stage.answer && shown.document !== null;
  const view = stage.plays && playedAs(stage.answer);
  const values = view
    ? JSON.stringify({ ...view.parts(shown), fault: selection.fault, profile: selection.profile })
    : "{}";
  useParts(JSON.parse(values) as Parts, ready && Boolean(view), (asked) => {
    if (view) void visit(placeOf(asked, view));
    return true;
  });
  useArriving(ready);
  useEffect(() => (ready ? writing() : undefined), [ready]);
  const title = titleOf(shown, stage);
  useEffect(() => {
    document.title = title;
  }, [title]);
  return null;
}

/** What stands in the browser's tab and in its history. */
function titleOf(shown: Shown, stage: StageView): string {
  const named = stage.name.charAt(0).toUpperCase() + stage.name.slice(1);
  const what = stage.plays && shown.answer ? playedAs(stage.answer)?.title(shown) : "";
  return [what, named, shown.document?.machine.name, "Orthotrope"].filter(Boolean).join(" · ");
}

/** The moment or the finding that an address leads to. */
function useArriving(ready: boolean) {
  const waits = useRef(momentNow());
  const [came, setCame] = useState(0);
  useEffect(() => {
    const arrived = () => {
      waits.current = momentNow();
      setCame((count) => count + 1);
    };
    window.addEventListener("popstate", arrived);
    return () => window.removeEventListener("popstate", arrived);
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time that one comes
  useEffect(() => {
    if (!ready || !isCurrentNow()) return; // what it is a moment of is asked for first
    const { at, finding } = waits.current;
    waits.current = { at: null, finding: null };
    if (finding) {
      const found = findingsOf(previewNow()).find((entry) => findingPart(entry) === finding);
      if (found) goTo(found);
      else tellGone("The finding of this link is not there any more.");
    } else if (at !== null && Number.isFinite(Number(at))) seek(Number(at));
  }, [ready, came]);
}

/** Puts the moment and the finding into the address when they have been looked at for a while; what it returns ends that. */
function writing() {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const later = () => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      const { time, chosen, playing } = usePlayback.getState();
      if (playing) return;
      note({ at: time > 0 ? String(Number(time.toFixed(3))) : null, finding: chosen && findingPart(chosen) }, "same");
    }, SETTLED);
  };
  const stop = usePlayback.subscribe((now, before) => {
    if (now.time !== before.time || now.chosen !== before.chosen || now.playing !== before.playing) later();
  });
  return () => {
    stop();
    clearTimeout(timer);
  };
}

function momentNow() {
  const params = new URLSearchParams(window.location.search);
  return { at: params.get("at"), finding: params.get("finding") };
}
