/** A block of known height, whose top is a reference face. */
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "reference block",
  label: "block of known height",
  inChanger: false,
  fields: [
    { label: "Laid at X", field: "x", kind: "length", hint: "Machine X: where it lies." },
    { label: "Laid at Y", field: "y", kind: "length", hint: "Machine Y." },
    { label: "Size X", field: "size_x", kind: "length", hint: "As it is seen from above." },
    { label: "Size Y", field: "size_y", kind: "length", hint: "As it is seen from above." },
    { label: "Height", field: "height", kind: "length", hint: "As it is marked or certified.", twice: true },
    { label: "Sets work offset", field: "work_offset", kind: "count", hint: "Whose zero in Z is what it lies on." },
  ],
};

export default view;
