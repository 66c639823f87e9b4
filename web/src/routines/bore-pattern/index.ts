/** Several bores: where their pattern is and how far it is turned. */
import { usual } from "../common";
import type { RoutineView } from "../kind";
import { Bores } from "./bores";

const view: RoutineView = {
  kind: "bore pattern",
  order: 12,
  label: "bore pattern",
  says: "Several bores: where their pattern is and how far it is turned.",
  template: (setup, name, probe) => ({
    ...usual(setup, name, probe),
    kind: "bore pattern",
    diameter: 12,
    bores: [
      { x: -30, y: -20 },
      { x: 30, y: -20 },
      { x: 30, y: 20 },
      { x: -30, y: 20 },
    ],
    turn: false,
  }),
  fields: [{ label: "Diameter", field: "diameter", kind: "length" }],
  switches: [["Set the turn", "turn"]],
  deep: true,
  Extra: Bores,
};

export default view;
