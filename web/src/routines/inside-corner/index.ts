/** A corner of a pocket, from two or three of its faces. */
import { CORNER_FIELDS, CORNER_SWITCHES, CORNER_USUAL, CORNERS, usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "inside corner",
  order: 4,
  label: "inside corner",
  says: "A corner of a pocket, from two or three of its faces.",
  template: (setup, name, probe) => ({ ...usual(setup, name, probe), kind: "inside corner", ...CORNER_USUAL }),
  fields: [...CORNER_FIELDS],
  choices: [CORNERS],
  switches: CORNER_SWITCHES,
  deep: true,
};

export default view;
