/** Forks that hold a holder by its groove and are entered from the side. */
import type { Changer } from "../../api/client";
import { RUNGS, type StyleView } from "../kind";
import type { Quantity } from "../quantities";
import { RackDimensions, rackHeights } from "../rack-dimensions";
import { ABOVE_KNOB, BlockRows, GripRows, OrientationRows, RackHeightRows, RackRows, Rows } from "../rows";

type SideEntry = Extract<Changer, { style: "side-entry" }>;

const FORKS: Quantity[] = [
  ["Mouth", "mouth_deg", "angle", "The way out of a fork, in plan, counter-clockwise from +X."],
  ["Lead-in", "lead_in", "length", "From the fork's axis to where a tool stands free in front of it."],
  ["Feed into a fork", "feed", "feed"],
  ["Groove diameter", "groove_diameter", "length"],
  ["Groove below gauge line", "groove_below", "length", "To its middle."],
  ["Groove width", "groove_width", "length"],
  ["Tine thickness", "thickness", "length", "Less than the groove is wide."],
  ["Tine width", "tine_width", "length"],
  ["Tine reach", "tine_reach", "length"],
];

function Schedule({ changer }: { changer: SideEntry }) {
  return (
    <>
      <RackRows rack={changer.rack} name="fork rack" />
      <RackHeightRows hint={ABOVE_KNOB} knob />
      <GripRows />
      <div className="group-title">
        Forks <small>entered along their mouth</small>
      </div>
      <Rows base="/changer/forks" rows={FORKS} />
      <OrientationRows />
      <BlockRows />
    </>
  );
}

const view: StyleView<SideEntry> = {
  style: "side-entry",
  name: "fork rack",
  says: "Forks that hold a holder by its groove; entered from the side, oriented.",
  holds: "holder",
  anyTool: false,
  rungs: RUNGS,
  Schedule,
  Dimensions: ({ changer, derived, to }) => <RackDimensions rack={changer.rack} derived={derived} to={to} />,
  heights: (changer, derived) => rackHeights(changer.heights, derived),
  extent: (changer, derived) => {
    const angle = (changer.forks.mouth_deg * Math.PI) / 180;
    const lead = changer.forks.lead_in;
    return {
      x: derived.pockets.map((pocket) => pocket.x + lead * Math.cos(angle)),
      y: derived.pockets.map((pocket) => pocket.y + lead * Math.sin(angle)),
      z: [],
    };
  },
};

export default view;
