import { ChoiceRow, DerivedRow } from "../../fields/rows";
import { usePreview } from "../../work/document";
import type { Quantity } from "../quantities";
import { BlockRows, RackHeightRows, RackRows, Rows } from "../rows";
import type { ThreadOn } from ".";
import { ThreadLibrary, Tuning } from "./tuning";

const COUPLING: Quantity[] = [
  ["lead", "length"],
  ["engaged_length", "length"],
  ["speed", "speed"],
  ["speed_cap", "speed"],
  ["feed", "feed"],
  ["dwell", "time"],
  ["lift_allowed", "length"],
  ["flats_height", "length"],
  ["give", "length"],
];

const NUT: Quantity[] = [
  ["nut_diameter", "length"],
  ["hole_diameter", "length"],
  ["bore_depth", "length"],
];

export function ThreadOnSchedule({ changer }: { changer: ThreadOn }) {
  return (
    <>
      <RackRows rack={changer.rack} name="thread-on rack" />
      <RackHeightRows />
      <CouplingRows coupling={changer.coupling} />
      <BlockRows title="Block and nut">
        <Rows base="/changer/coupling" rows={NUT} />
      </BlockRows>
    </>
  );
}

function CouplingRows({ coupling }: { coupling: ThreadOn["coupling"] }) {
  const greatest = usePreview((answer) => Math.abs(answer?.derived?.workings.greatest_lift?.value ?? 0));
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
