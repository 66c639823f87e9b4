/** Forks that hold a holder by its groove and are entered from the side. */
import type { Changer } from "../../api/client";
import { RUNGS, type StyleView } from "../kind";
import type { Quantity } from "../quantities";
import { RackDimensions, rackHeights } from "../rack-dimensions";
import { BlockRows, GripRows, OrientationRows, RackHeightRows, RackRows, Rows } from "../rows";

type SideEntry = Extract<Changer, { style: "side-entry" }>;

const FORKS: Quantity[] = [
  ["mouth_deg", "angle"],
  ["lead_in", "length"],
  ["feed", "feed"],
  ["groove_diameter", "length"],
  ["groove_below", "length"],
  ["groove_width", "length"],
  ["thickness", "length"],
  ["tine_width", "length"],
  ["tine_reach", "length"],
];

function Schedule({ changer }: { changer: SideEntry }) {
  return (
    <>
      <RackRows rack={changer.rack} name="fork rack" />
      <RackHeightRows knob />
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
