/** A boss: its middle and diameter. */
import { usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "boss",
  order: 6,
  label: "boss",
  says: "A boss: its middle and diameter.",
  template: (setup, name, probe) => ({
    ...usual(setup, name, probe),
    kind: "boss",
    diameter: 40,
    touches: 4,
    first_deg: 0,
  }),
  fields: [
    { label: "Diameter", field: "diameter", kind: "length" },
    {
      label: "Touches",
      field: "touches",
      kind: "count",
    },
    { label: "First touch at", field: "first_deg", kind: "angle" },
  ],
  deep: true,
  spans: () => [{ field: "diameter", axis: "x" }],
};

export default view;
