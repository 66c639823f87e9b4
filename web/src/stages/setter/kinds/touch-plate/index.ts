/** A plate that is laid on a part while its zero is touched. */
import { USUAL } from "../common";
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "touch plate",
  label: "touch plate",
  name: "touch plate",
  inChanger: false,
  template: (setup, name, input) => {
    const { X, Y, Z } = setup.machine.axes;
    return {
      ...USUAL,
      kind: "touch plate",
      name,
      input,
      overtravel: 2,
      work_offset: 1,
      x: (X.least + X.greatest) / 2,
      y: (Y.least + Y.greatest) / 2,
      diameter: 40,
      thickness: 12.7,
      plane_z: Z.least + 60,
    };
  },
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
