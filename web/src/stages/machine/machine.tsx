/** The Machine stage: axes side by side, travel and what is left of it, speed curves, stored positions, the entry card. */

import { Panels } from "../../common/panels";
import { Views } from "../../common/views";
import { FindingItem } from "../../findings/findings";
import { useInAddress } from "../../session/address";
import { usePreview } from "../../work/document";
import { CardView } from "./card";
import { ProfileEditor } from "./profile-editor";
import { MachineSchedule } from "./schedule";
import { MachineSheet } from "./sheet";
import { SpeedCurves } from "./speed";
import { WayText } from "./way-text";

const VIEWS = {
  travel: ["Travel and space", MachineSheet],
  speed: ["Speed curves", SpeedCurves],
  way: ["Way to a position", WayText],
  card: ["Entry card", CardView],
  profile: ["Control profile", ProfileEditor],
} as const;

type View = keyof typeof VIEWS;

const NAMES = Object.keys(VIEWS) as View[];

export default function MachineStage() {
  const [view, setView] = useInAddress("view", NAMES, "travel");
  return (
    <Panels
      name="machine"
      left={<MachineSchedule onWay={() => setView("way")} onProfile={() => setView("profile")} />}
      leftSize={408}
      middle={<Views views={VIEWS} view={view} onView={setView} />}
      right={<MachineFindings />}
      rightSize={236}
    />
  );
}

function MachineFindings() {
  const machine = usePreview((answer) => answer?.machine);
  const conflicts = usePreview((answer) => answer?.conflicts) ?? [];
  const reported = [
    ...conflicts,
    ...(machine?.ways.flatMap((way) => way.findings) ?? []),
    ...(machine?.findings ?? []),
  ];
  return (
    <section aria-label="Findings">
      <h3 className="flex justify-between px-3.5 pt-3 pb-2 font-semibold">
        Findings <span className="font-normal text-ink-3">{reported.length}</span>
      </h3>
      {reported.length === 0 && <p className="px-3.5 text-ink-2">No findings.</p>}
      <ul>
        {reported.map((finding) => (
          <FindingItem key={finding.check + finding.message} finding={finding} />
        ))}
      </ul>
      <h3 className="mt-3 border-t border-rule px-3.5 pt-2.5 font-semibold">Not known before homing</h3>
      <ul className="px-3.5 pb-4 text-[14px] text-ink-2">
        {machine?.unknown_before_homing.map((line) => (
          <li key={line} className="py-0.5 leading-snug">
            {line}
          </li>
        ))}
      </ul>
    </section>
  );
}
