/** The Setter stage. */
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
import { usePreview, useSetup, useTrace } from "../../work/document";

import { CalibrationView } from "./calibration";
import { MeasuringChoice } from "./choice";
import { Lengths } from "./lengths";
import { SetterSchedule } from "./schedule";
import { SetterSheet } from "./sheet";
import { Times } from "./times";
import { UnderFaults } from "./under-faults";

const VIEWS = {
  sheet: ["Window", SetterSheet],
  times: ["Feeds and times", Times],
  plane: ["Plane height", CalibrationView],
  lengths: ["Lengths", Lengths],
} as const;

type View = keyof typeof VIEWS | "faults";

const NAMES: View[] = [...(Object.keys(VIEWS) as (keyof typeof VIEWS)[]), "faults"];

export default function SetterStage() {
  const has = useSetup((setup) => Boolean(setup?.setters.length));
  const [view, setView] = useInAddress("view", NAMES, "sheet");
  const views = useMemo(
    () => ({ ...VIEWS, faults: ["Under faults", () => <UnderFaults onPlay={() => setView("sheet")} />] as const }),
    [setView],
  );
  const played = has && view === "sheet";
  const footSize = scoreHeight(useTrace(), FOOT);
  return (
    <Panels
      key={played ? "with-score" : "without"}
      name={played ? "setter" : "setter-views"}
      left={<SetterSchedule />}
      middle={has ? <Views views={views} view={view} onView={setView} /> : <None />}
      right={has && <Side />}
      footSize={footSize}
      foot={played ? [<Score key="score" />, <ProgramView key="text" />] : undefined}
    />
  );
}

function None() {
  return (
    <p className="h-full bg-sheet p-6 text-ink-2">
      There is no setter yet. Add one in the schedule on the left; then every tool's length is measured by a program
      that is written and proven here.
    </p>
  );
}

const NOTHING: never[] = [];

function Side() {
  const measuring = usePreview((answer) => answer?.measuring);
  const conflicts = usePreview((answer) => answer?.conflicts) ?? NOTHING;
  const mine = conflicts.filter((entry) => entry.quantity?.startsWith("/setters"));
  return (
    <>
      <MeasuringChoice />
      <UnderFault />
      <FindingsPanel findings={[...mine, ...(measuring?.findings ?? [])]} />
      <Closest passed={measuring?.passed ?? NOTHING} />
      <AtThisBlock />
    </>
  );
}
