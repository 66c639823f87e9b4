/** Home, go to a corner that does not move, set its zero; the height is still to be touched. */
import { usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "fixed corner",
  order: 14,
  label: "back to a fixed corner",
  says: "Home, go to a corner that does not move, set its zero; the height is still to be touched.",
  template: (setup, name, probe) => ({ ...usual(setup, name, probe), kind: "fixed corner" }),
  fields: [],
  untouched: true,
  deep: false,
};

export default view;
