/** A plate that is laid on a part while its zero is touched. */
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "touch plate",
  label: "touch plate",
  inChanger: false,
  fields: [
    { label: "Laid at X", field: "x", kind: "length" },
    { label: "Laid at Y", field: "y", kind: "length" },
    { label: "Diameter", field: "diameter", kind: "length" },
    {
      label: "Thickness",
      field: "thickness",
      kind: "length",
      twice: true,
    },
    { label: "Sets work offset", field: "work_offset", kind: "count" },
  ],
};

export default view;
