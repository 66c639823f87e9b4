/** What a stage plays stands in the address, and what the address asks for is played. */
import { useEffect, useRef, useState } from "react";
import type { Answer, Finding } from "../api/client";
import type { Shown, StageView } from "../stages/stage";
import { isCurrent } from "../work/asking";
import { useWork } from "../work/store";
import { useVocabulary } from "../work/vocabulary";
import { playedOf, type Work } from "../work/work";
import { note, type Parts, tellGone, useParts } from "./address";

/** ms that a moment is looked at before it stands in the address */
const SETTLED = 250;

/** What is played, by what the stage shows: its parts of the address. */
const PARTS: Partial<Record<Shown, (work: Work) => Parts>> = {
  exchange: ({ pair }) => ({ from: pair ? String(pair.from) : null, to: pair ? String(pair.to) : null }),
  measuring: ({ answer }) => ({
    sequence: answer?.measuring?.sequence ?? null,
    tools: answer?.measuring?.tools.join(",") || null,
    setter: answer?.measuring?.setter ?? null,
  }),
  probing: ({ answer }) => ({ routine: answer?.probing?.routine || null }),
};

/** What the address asks to be played, as the work takes it; what is not there any more is reported. */
function wanted(asked: Parts): Partial<Pick<Work, "pair" | "measuring" | "fault" | "profile">> {
  const { document, pair, measuring, answer } = useWork.getState();
  const there = new Set([0, ...(document?.tools.map((tool) => tool.number) ?? [])]);
  const tool = (text: string | null | undefined, otherwise: number): number => {
    if (!text) return otherwise;
    if (there.has(Number(text))) return Number(text);
    tellGone(`T${text} is not in the Setup any more.`);
    return otherwise;
  };
  const found: ReturnType<typeof wanted> = {};
  if ("from" in asked) found.pair = { from: tool(asked.from, pair?.from ?? 0), to: tool(asked.to, pair?.to ?? 0) };
  if (found.pair?.from === found.pair?.to) found.pair = pair;
  if ("sequence" in asked) {
    const setters = document?.setters.map((entry) => entry.name) ?? [];
    const known = answer?.measuring?.sequences.find((name) => name === asked.sequence);
    const tools = asked.tools?.split(",").map((text) => tool(text, 0)) ?? [];
    if (asked.setter && !setters.includes(asked.setter))
      tellGone(`The setter “${asked.setter}” is not in the Setup any more.`);
    found.measuring = {
      ...measuring,
      sequence: (known as Work["measuring"]["sequence"]) ?? measuring.sequence,
      tools: tools.filter((number) => number > 0),
      setter: setters.find((name) => name === asked.setter) ?? measuring.setter,
    };
  }
  if (asked.routine) {
    const known = answer?.probing?.routines.some((entry) => entry.name === asked.routine);
    if (known) found.measuring = { ...measuring, routine: asked.routine };
    else tellGone(`The routine “${asked.routine}” is not in the Setup any more.`);
  }
  const faults = useVocabulary.getState().faults;
  found.fault = asked.fault && asked.fault in faults ? asked.fault : null;
  if (asked.fault && !found.fault) tellGone(`There is no fault “${asked.fault}”.`);
  const profiles = playedOf({ answer })?.texts.map((text) => text.profile) ?? [];
  if (asked.profile && !profiles.includes(asked.profile))
    tellGone(`The control profile “${asked.profile}” is not in the Setup any more.`);
  found.profile = profiles.find((name) => name === asked.profile) ?? null;
  return found;
}

/** A finding's part of the address: its check, and where it stands. */
export function findingPart(finding: Finding): string {
  return `${finding.check}@${finding.line ?? finding.quantity ?? ""}`;
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
  const ready = useWork((work) => work.stage === stage.answer && work.document !== null && isCurrent(work));
  const parts = stage.plays ? PARTS[stage.answer] : undefined;
  const values = useWork((work) =>
    parts ? JSON.stringify({ ...parts(work), fault: work.fault, profile: work.profile }) : "{}",
  );
  useParts(JSON.parse(values) as Parts, ready && Boolean(parts), (asked) => {
    void useWork.getState().visit(wanted(asked));
    return true;
  });
  useArriving(ready);
  useEffect(() => (ready ? writing() : undefined), [ready]);
  const title = useWork((work) => titleOf(work, stage));
  useEffect(() => {
    document.title = title;
  }, [title]);
  return null;
}

/** What stands in the browser's tab and in its history. */
function titleOf({ document, pair, answer }: Work, stage: StageView): string {
  const named = stage.name.charAt(0).toUpperCase() + stage.name.slice(1);
  const tool = (number: number) => (number ? `T${number}` : "empty");
  const what =
    !stage.plays || !answer
      ? ""
      : answer.exchange && pair
        ? `${tool(pair.from)} → ${tool(pair.to)}`
        : (answer.probing?.routine ?? answer.measuring?.tools.map(tool).join(", ") ?? "");
  return [what, named, document?.machine.name, "Orthotrope"].filter(Boolean).join(" · ");
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
    if (!ready || !isCurrent(useWork.getState())) return; // what it is a moment of is asked for first
    const { at, finding } = waits.current;
    waits.current = { at: null, finding: null };
    if (finding) {
      const found = findingsOf(useWork.getState().answer).find((entry) => findingPart(entry) === finding);
      if (found) useWork.getState().goTo(found);
      else tellGone("The finding of this link is not there any more.");
    } else if (at !== null && Number.isFinite(Number(at))) useWork.getState().seek(Number(at));
  }, [ready, came]);
}

/** Puts the moment and the finding into the address when they have been looked at for a while; what it returns ends that. */
function writing() {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const later = () => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      const { time, chosen, playing } = useWork.getState();
      if (playing) return;
      note({ at: time > 0 ? String(Number(time.toFixed(3))) : null, finding: chosen && findingPart(chosen) }, "same");
    }, SETTLED);
  };
  const stop = useWork.subscribe((now, before) => {
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
