/** A setter that stands on the table by itself. */
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "on the table",
  label: "on the table",
  inChanger: false,
  fields: [
    { label: "Middle X", field: "x", kind: "length", hint: "Machine X of its middle: jog the spindle over it." },
    { label: "Middle Y", field: "y", kind: "length", hint: "Machine Y of its middle." },
    { label: "Stands at", field: "bottom_z", kind: "length", hint: "Machine Z of the face that it stands on." },
    { label: "Diameter", field: "shape/diameter", kind: "length", hint: "Of a round one, as it is seen from above." },
    { label: "Size X", field: "shape/size_x", kind: "length", hint: "Of a square one." },
    { label: "Size Y", field: "shape/size_y", kind: "length", hint: "Of a square one." },
  ],
};

export default view;
