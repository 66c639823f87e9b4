/** A disc beside the machine, from whose ready place an arm with two hands brings the tool. */
import type { Changer } from "../../api/client";
import { ChoiceRow } from "../../fields/rows";
import { DiscDimensions } from "../disc-dimensions";
import type { StyleView } from "../kind";
import type { Quantity } from "../quantities";
import { discHeights } from "../rack-dimensions";
import { DiscHeightRows, DiscRows, GripRows, OrientationRows, Rows } from "../rows";

type ArmDisc = Extract<Changer, { style: "disc with arm" }>;

const ARM: Quantity[] = [
  ["reach", "length"],
  ["stroke", "length"],
];

function Schedule() {
  return (
    <>
      <DiscRows name="disc with arm">
        <Rows base="/changer/arm" rows={ARM} />
        <ChoiceRow
          label="Tools"
          pointer="/changer/arm/tools"
          choices={[
            ["change pockets", "change pockets"],
            ["keep their pockets", "keep their pockets"],
          ]}
        />
      </DiscRows>
      <DiscHeightRows hover={false} />
      <GripRows />
      <OrientationRows />
    </>
  );
}

const view: StyleView<ArmDisc> = {
  style: "disc with arm",
  name: "disc with arm",
  says: "A two-handed arm swaps the tool in the spindle with the one in the pot.",
  holds: "holder",
  anyTool: false,
  rungs: ["park", "couple"],
  Schedule,
  Dimensions: ({ changer, to }) => (
    <DiscDimensions
      changer={changer}
      own={{ label: "Arm reach", text: "reach", value: changer.arm.reach, pointer: "/changer/arm/reach" }}
      to={to}
    />
  ),
  heights: (changer, derived) => discHeights(changer.heights, derived),
};

export default view;
