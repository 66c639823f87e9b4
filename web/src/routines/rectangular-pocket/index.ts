/** A rectangular pocket: its middle and both sizes. */
import { usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "rectangular pocket",
  order: 9,
  label: "rectangular pocket",
  says: "A rectangular pocket: its middle and both sizes.",
  template: (setup, name, probe) => ({
    ...usual(setup, name, probe),
    kind: "rectangular pocket",
    size_x: 60,
    size_y: 40,
  }),
  fields: [
    { label: "Size X", field: "size_x", kind: "length" },
    { label: "Size Y", field: "size_y", kind: "length" },
  ],
  deep: true,
  spans: () => [
    { field: "size_x", axis: "x" },
    { field: "size_y", axis: "y" },
  ],
};

export default view;
