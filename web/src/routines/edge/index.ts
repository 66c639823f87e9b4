/** One side of the part, touched below its upper face. */
import { SIDEWAYS, usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "edge",
  order: 2,
  label: "edge",
  says: "One side of the part, touched below its upper face.",
  template: (setup, name, probe) => ({ ...usual(setup, name, probe), kind: "edge", way: "X+" }),
  fields: [],
  choices: [{ label: "It goes", field: "way", choices: SIDEWAYS }],
  deep: true,
};

export default view;
