/** A block of known height, whose top is a reference face. */
import { USUAL } from "../common";
import type { SetterView } from "../kind";

const view: SetterView = {
  kind: "reference block",
  label: "block of known height",
  name: "block",
  inChanger: false,
  template: (setup, name, input) => {
    const { X, Y, Z } = setup.machine.axes;
    return {
      ...USUAL,
      kind: "reference block",
      name,
      input,
      overtravel: 0.1,
      search_feed: 60,
      measure_feed: 25,
      work_offset: 1,
      x: (X.least + X.greatest) / 2,
      y: (Y.least + Y.greatest) / 2,
      size_x: 30,
      size_y: 30,
      height: 50,
      plane_z: Z.least + 60,
    };
  },
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
