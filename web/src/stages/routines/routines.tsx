/** The Routines stage. */
import { useMemo } from "react";
import { FOOT, Panels } from "../../common/panels";
import { Views } from "../../common/views";
import { Closest } from "../../findings/closest";
import { FindingsPanel } from "../../findings/findings";
import { ProgramView } from "../../program/program-view";
import { AtThisBlock } from "../../score/at-block";
import { scoreHeight } from "../../score/lanes";
import { Score } from "../../score/score";
import { UnderFault } from "../../score/under-fault";
import { useInAddress } from "../../session/address";
import { Before } from "../../touching/before";
import { usePreview, useTrace } from "../../work/document";

import { OwnProgram } from "./own";
import { ResultView } from "./result";
import { Review } from "./review";
import { RoutineSchedule } from "./schedule";
import { RoutineSheet } from "./sheet";
import { TouchTexts } from "./touch-texts";
import { UnderFaults } from "./under-faults";

const VIEWS = {
  sheet: ["Touches", RoutineSheet],
  result: ["Result", ResultView],
  review: ["Your program", Review],
} as const;

type View = keyof typeof VIEWS | "faults";

const NAMES: View[] = [...(Object.keys(VIEWS) as (keyof typeof VIEWS)[]), "faults"];

export default function RoutinesStage() {
  const has = usePreview((answer) => Boolean(answer?.probing?.routines.length));
  const [view, setView] = useInAddress("view", NAMES, "sheet");
  const views = useMemo(
    () => ({ ...VIEWS, faults: ["Under faults", () => <UnderFaults onPlay={() => setView("sheet")} />] as const }),
    [setView],
  );
  const played = has && (view === "sheet" || view === "review");
  const footSize = scoreHeight(useTrace(), FOOT);
  return (
    <Panels
      key={played ? "with-score" : "without"}
      name={played ? "routines" : "routines-views"}
      left={<RoutineSchedule />}
      middle={has ? <Views views={views} view={view} onView={setView} /> : <None />}
      right={has && <Side review={view === "review"} />}
      footSize={footSize}
      foot={
        played
          ? [<Score key="score" />, view === "review" ? <BlockBeside key="block" /> : <ProgramView key="text" />]
          : undefined
      }
    />
  );
}

/** Where the text is read in the editor above, the foot has how everything stands. */
function BlockBeside() {
  return (
    <div className="h-full overflow-auto bg-panel">
      <AtThisBlock />
    </div>
  );
}

function None() {
  return (
    <p className="h-full bg-sheet p-6 text-ink-2">
      There is no routine yet. Add one in the schedule on the left: what it touches is drawn here, and its program is
      written and proven.
    </p>
  );
}

const NOTHING: never[] = [];

function Side({ review }: { review: boolean }) {
  const probing = usePreview((answer) => answer?.probing);
  const conflicts = usePreview((answer) => answer?.conflicts) ?? NOTHING;
  const mine = conflicts.filter((entry) => /^\/(routines|probes)/.test(entry.quantity ?? ""));
  return (
    <>
      <Before />
      <UnderFault />
      <TouchTexts />
      <OwnProgram />
      <FindingsPanel findings={[...mine, ...(probing?.findings ?? [])]} />
      <Closest passed={probing?.passed ?? NOTHING} />
      {!review && <AtThisBlock />}
    </>
  );
}
