/** A setter that stands on the table by itself. */
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "on the table",
  label: "on the table",
  inChanger: false,
  fields: [
    { label: "Middle X", field: "x", kind: "length" },
    { label: "Middle Y", field: "y", kind: "length" },
    { label: "Stands at", field: "bottom_z", kind: "length" },
    { label: "Diameter", field: "shape/diameter", kind: "length" },
    { label: "Size X", field: "shape/size_x", kind: "length" },
    { label: "Size Y", field: "shape/size_y", kind: "length" },
  ],
};

export default view;
