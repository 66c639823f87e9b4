/** A rack of collet nuts that the turning spindle threads on and off. */
import type { Changer } from "../../api/client";
import { RUNGS, type StyleView } from "../kind";
import { RackDimensions, rackHeights } from "../rack-dimensions";
import { ThreadOnSchedule } from "./schedule";

export type ThreadOn = Extract<Changer, { style: "thread-on" }>;

const view: StyleView<ThreadOn> = {
  style: "thread-on",
  name: "thread-on rack",
  says: "Collet nuts in a rack; the turning spindle threads them on and off.",
  holds: "nut",
  anyTool: false,
  rungs: RUNGS,
  Schedule: ThreadOnSchedule,
  Dimensions: ({ changer, derived, to }) => <RackDimensions rack={changer.rack} derived={derived} to={to} />,
  heights: (changer, derived) => {
    const rows = rackHeights(changer.heights, derived, { name: "on spacer", label: "Nose on spacer" });
    const { give } = changer.coupling;
    const { couple_z } = derived.ladder;
    const pointer = "/changer/coupling/give";
    rows.splice(-1, 0, {
      name: "pocket gives",
      label: "Pocket gives",
      pointer,
      value: give,
      from: couple_z,
      to: couple_z - give,
    });
    return rows;
  },
};

export default view;
