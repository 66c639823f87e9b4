/** A block of known height, whose top is a reference face. */
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "reference block",
  label: "block of known height",
  inChanger: false,
  fields: [
    { label: "Laid at X", field: "x", kind: "length" },
    { label: "Laid at Y", field: "y", kind: "length" },
    { label: "Size X", field: "size_x", kind: "length" },
    { label: "Size Y", field: "size_y", kind: "length" },
    { label: "Height", field: "height", kind: "length", twice: true },
    { label: "Sets work offset", field: "work_offset", kind: "count" },
  ],
};

export default view;
