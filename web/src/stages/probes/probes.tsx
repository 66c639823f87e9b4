/** The Probes stage. */

import { FOOT, Panels } from "../../common/panels";
import { useShell } from "../../common/shell-state";
import { Views } from "../../common/views";
import { FindingsPanel } from "../../findings/findings";
import { ProgramView } from "../../program/program-view";
import { AtThisBlock } from "../../score/at-block";
import { Score } from "../../score/score";
import { useInAddress, usePart } from "../../session/address";
import { Before } from "../../touching/before";
import { usePreview, useSetup } from "../../work/document";
import { usePlayback } from "../../work/playback";
import { Feeds } from "./feeds";
import { QualifyView } from "./qualify";
import { ProbeSchedule } from "./schedule";
import { ProbeSheet } from "./sheet";
import { chooseProbe, useProbe } from "./which";

const VIEWS = {
  sheet: ["Probe", ProbeSheet],
  qualify: ["Qualify", QualifyView],
  feeds: ["Feed and error", Feeds],
} as const;

/** px: the foot where the hand panel is open and nobody plays */
const LOW_FOOT = 92;

type View = keyof typeof VIEWS;

const NAMES = Object.keys(VIEWS) as View[];

const NOTHING: never[] = [];

export default function ProbesStage() {
  const has = useSetup((setup) => Boolean(setup?.probes.length));
  const [view, setView] = useInAddress("view", NAMES, "sheet");
  const probes = useSetup((setup) => setup?.probes) ?? NOTHING;
  const { probe } = useProbe();
  usePart("probe", probe?.name ?? null, probes.length > 0, (asked) => {
    const found = probes.some((entry) => entry.name === asked);
    if (found) chooseProbe(asked);
    return found;
  });
  const played = has && view === "qualify";
  const playing = usePlayback((work) => work.playing);
  const low = useShell((shell) => shell.panel) && !playing; // beside the hand panel the view has the room, not a score that stands still
  return (
    <Panels
      key={played ? "with-score" : "without"}
      name={played ? "probes" : "probes-views"}
      left={<ProbeSchedule />}
      middle={has ? <Views views={VIEWS} view={view} onView={setView} /> : <None />}
      right={has && <Side qualify={played} />}
      foot={played ? [<Score key="score" />, <ProgramView key="text" />] : undefined}
      footSize={low ? LOW_FOOT : FOOT}
    />
  );
}

function None() {
  return (
    <p className="h-full bg-sheet p-6 text-ink-2">
      There is no probe yet. Add one in the schedule on the left; it is qualified here, and routines are made with it.
    </p>
  );
}

function Side({ qualify }: { qualify: boolean }) {
  const probing = usePreview((answer) => answer?.probing);
  const conflicts = usePreview((answer) => answer?.conflicts) ?? NOTHING;
  const mine = conflicts.filter((entry) => entry.quantity?.startsWith("/probes"));
  return (
    <>
      {qualify && <Before />}
      <FindingsPanel findings={qualify ? [...mine, ...(probing?.findings ?? [])] : mine} />
      {qualify && <AtThisBlock />}
    </>
  );
}
