/** The height of a step, from a touch of each face. */
import { usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "step height",
  order: 13,
  label: "step height",
  says: "The height of a step, from a touch of each face.",
  template: (setup, name, probe) => ({
    ...usual(setup, name, probe),
    kind: "step height",
    to_x: 40,
    to_y: 0,
    height: 10,
  }),
  fields: [
    { label: "Height", field: "height", kind: "length" },
    { label: "Second face, X", field: "to_x", kind: "length" },
    { label: "Second face, Y", field: "to_y", kind: "length" },
  ],
  deep: false,
};

export default view;
