/** A disc that swings to the spindle and home again. */
import type { Changer } from "../../api/client";
import { QuantityRow } from "../../fields/rows";
import { DiscDimensions } from "../disc-dimensions";
import type { StyleView } from "../kind";
import { discHeights } from "../rack-dimensions";
import { DiscHeightRows, DiscRows, GripRows, OrientationRows } from "../rows";

type MovingDisc = Extract<Changer, { style: "moving disc" }>;

function Schedule() {
  return (
    <>
      <DiscRows name="moving disc">
        <QuantityRow pointer="/changer/swing" kind="length" />
      </DiscRows>
      <DiscHeightRows hover />
      <GripRows />
      <OrientationRows />
    </>
  );
}

const view: StyleView<MovingDisc> = {
  style: "moving disc",
  name: "moving disc",
  says: "A disc swings to the spindle and turns.",
  holds: "holder",
  anyTool: false,
  rungs: ["park", "hover", "couple"],
  Schedule,
  Dimensions: ({ changer, to }) => (
    <DiscDimensions
      changer={changer}
      own={{ label: "Swing", text: "swing", value: changer.swing, pointer: "/changer/swing" }}
      to={to}
    />
  ),
  heights: (changer, derived) => discHeights(changer.heights, derived),
};

export default view;
