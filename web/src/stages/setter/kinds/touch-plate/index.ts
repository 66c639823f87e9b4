/** A plate that is laid on a part while its zero is touched. */
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "touch plate",
  label: "touch plate",
  inChanger: false,
  fields: [
    { label: "Laid at X", field: "x", kind: "length", hint: "Machine X: where on the part it lies." },
    { label: "Laid at Y", field: "y", kind: "length", hint: "Machine Y." },
    { label: "Diameter", field: "diameter", kind: "length", hint: "As it is seen from above." },
    {
      label: "Thickness",
      field: "thickness",
      kind: "length",
      hint: "Of the plate: measure it with a micrometer.",
      twice: true,
    },
    { label: "Sets work offset", field: "work_offset", kind: "count", hint: "Whose zero in Z is the part's top." },
  ],
};

export default view;
