/** Pockets in a table or plate, into which the spindle sets its holder down from above. */
import type { Changer } from "../../api/client";
import { QuantityRow } from "../../fields/rows";
import { RUNGS, type StyleView } from "../kind";
import { RackDimensions, rackHeights } from "../rack-dimensions";
import { BlockRows, GripRows, RackHeightRows, RackRows } from "../rows";

type DropIn = Extract<Changer, { style: "drop-in" }>;

function Schedule({ changer }: { changer: DropIn }) {
  return (
    <>
      <RackRows rack={changer.rack} name="drop-in pockets" />
      <RackHeightRows knob />
      <GripRows />
      <QuantityRow pointer="/changer/hole_diameter" kind="length" />
      <BlockRows />
    </>
  );
}

const view: StyleView<DropIn> = {
  style: "drop-in",
  name: "drop-in pockets",
  says: "Pockets in a table or plate; the spindle sets its holder down from above.",
  holds: "holder",
  anyTool: false,
  rungs: RUNGS,
  Schedule,
  Dimensions: ({ changer, derived, to }) => <RackDimensions rack={changer.rack} derived={derived} to={to} />,
  heights: (changer, derived) => rackHeights(changer.heights, derived),
};

export default view;
