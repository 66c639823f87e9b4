/** The height of a step, from a touch of each face. */
import { usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "step height",
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
    { label: "Height", field: "height", kind: "length", hint: "As expected: the second face is lower by so much." },
    { label: "Second face, X", field: "to_x", kind: "length", hint: "From the first touch." },
    { label: "Second face, Y", field: "to_y", kind: "length", hint: "From the first touch." },
  ],
  deep: false,
};

export default view;
