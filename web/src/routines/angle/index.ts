/** How far an edge is turned, from touches along it. */
import { SIDEWAYS, usual } from "../common";
import type { RoutineView } from "../kind";

const view: RoutineView = {
  kind: "angle",
  order: 11,
  label: "angle of an edge",
  says: "How far an edge is turned, from touches along it.",
  template: (setup, name, probe) => ({
    ...usual(setup, name, probe),
    kind: "angle",
    way: "Y+",
    touches: 2,
    span: 60,
    turn: false,
  }),
  fields: [
    { label: "Touches", field: "touches", kind: "count" },
    {
      label: "First to last",
      field: "span",
      kind: "length",
    },
  ],
  choices: [{ label: "It goes", field: "way", choices: SIDEWAYS }],
  switches: [["Set the turn", "turn"]],
  deep: true,
};

export default view;
