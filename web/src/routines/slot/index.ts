/** The middle and width of a slot, along one axis. */
import { ACROSS, of, usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "slot",
  order: 7,
  label: "slot",
  says: "The middle and width of a slot, along one axis.",
  template: (setup, name, probe) => ({ ...usual(setup, name, probe), kind: "slot", across: "x", width: 20 }),
  fields: [{ label: "Width", field: "width", kind: "length" }],
  choices: [ACROSS],
  deep: true,
  spans: (routine) => [{ field: "width", axis: of(routine, "across") as "x" | "y" }],
};

export default view;
