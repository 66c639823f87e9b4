import { ChoiceRow, DerivedRow } from "../../fields/rows";
import { useWork } from "../../work/store";
import type { Quantity } from "../quantities";
import { BlockRows, RackHeightRows, RackRows, Rows } from "../rows";
import type { ThreadOn } from ".";
import { ThreadLibrary, Tuning } from "./tuning";

const COUPLING: Quantity[] = [
  ["Thread lead", "lead", "length", "1 to 2 mm is usual."],
  ["Engaged thread", "engaged_length", "length", "7 to 12 mm is usual."],
  ["Coupling speed", "speed", "speed", "800 to 1 800 rev/min is usual."],
  ["Speed cap", "speed_cap", "speed", "More would tighten the nut too hard."],
  ["Coupling feed", "feed", "feed", "Lead times speed is the ideal feed."],
  ["Dwell", "dwell", "time", "At couple height, until the nut is on or off."],
  ["Lift allowed", "lift_allowed", "length", "The pocket's float, up and down."],
  ["Flats' height", "flats_height", "length", "How far above its seat the pocket's flats catch the nut."],
  [
    "Pocket gives",
    "give",
    "length",
    "How far below its seat a nut may be pushed as it is put down: springs or a rubber floor 4 to 10 mm, a rigid pocket 0.2.",
  ],
];

const NUT: Quantity[] = [
  ["Nut diameter", "nut_diameter", "length"],
  ["Hole diameter", "hole_diameter", "length", "What a cutter must pass through."],
  [
    "Spindle bore depth",
    "bore_depth",
    "length",
    "How far a shank may stand into the spindle's bore above the gauge line.",
  ],
];

export function ThreadOnSchedule({ changer }: { changer: ThreadOn }) {
  return (
    <>
      <RackRows rack={changer.rack} name="thread-on rack" />
      <RackHeightRows hint="Couple to hover: the engaged thread and the gap in which the feed is reached." />
      <CouplingRows coupling={changer.coupling} />
      <BlockRows title="Block and nut">
        <Rows base="/changer/coupling" rows={NUT} />
      </BlockRows>
    </>
  );
}

function CouplingRows({ coupling }: { coupling: ThreadOn["coupling"] }) {
  const greatest = useWork((work) => Math.abs(work.answer?.derived?.workings.greatest_lift?.value ?? 0));
  return (
    <>
      <div className="group-title">
        Coupling <small>the turning spindle and the nut</small>
      </div>
      <ThreadLibrary coupling={coupling} />
      <Rows base="/changer/coupling" rows={COUPLING} />
      <ChoiceRow
        label="The nut runs off"
        pointer="/changer/coupling/put_down"
        choices={[
          ["going down", "going down"],
          ["rising", "rising"],
        ]}
      />
      <DerivedRow name="greatest_lift" sign warn={greatest > coupling.lift_allowed} />
      <DerivedRow name="lift" sign />
      <DerivedRow name="end_lift" sign />
      <DerivedRow name="ideal_feed" />
      <DerivedRow name="feed_limit" />
      <DerivedRow name="corrected_feed" />
      <DerivedRow name="ramp_distance" />
      <DerivedRow name="approach_gap" />
      <DerivedRow name="turns" />
      <Tuning coupling={coupling} />
    </>
  );
}
