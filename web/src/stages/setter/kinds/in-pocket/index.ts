/** A setter that stands in a pocket of the changer: its place follows from that. */
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "in a pocket",
  label: "in a pocket of the changer",
  inChanger: true,
  fields: [
    { label: "Pocket", field: "pocket", kind: "count" },
    { label: "Diameter", field: "diameter", kind: "length" },
  ],
};

export default view;
