/** A face, touched once: along X, Y or from above. */
import { SIDEWAYS, usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "surface",
  order: 1,
  label: "surface",
  says: "A face, touched once: along X, Y or from above.",
  template: (setup, name, probe) => ({ ...usual(setup, name, probe), kind: "surface", way: "Z-" }),
  fields: [],
  choices: [{ label: "It goes", field: "way", choices: [...SIDEWAYS, ["Z-", "down onto the face"]] }],
  deep: false,
};

export default view;
