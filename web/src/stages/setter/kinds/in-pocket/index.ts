/** A setter that stands in a pocket of the changer: its place follows from that. */
import { pocketCount } from "../../../changer/of-changer";
import { USUAL } from "../common";
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "in a pocket",
  label: "in a pocket of the changer",
  name: "tool setter",
  inChanger: true,
  template: (setup, name, input) => ({
    ...USUAL,
    kind: "in a pocket",
    name,
    input,
    pocket: pocketCount(setup.changer),
    diameter: 30,
    plane_z: setup.changer && "heights" in setup.changer ? setup.changer.heights.stored_top_z : -100,
  }),
  fields: [
    { label: "Pocket", field: "pocket", kind: "count", hint: "No tool can have it; its place is the pocket's." },
    { label: "Diameter", field: "diameter", kind: "length", hint: "Of what stands there." },
  ],
};

export default view;
