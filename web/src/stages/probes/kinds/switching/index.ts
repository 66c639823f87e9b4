/** A ball on a stem, which switches when it is pushed. */
import type { ProbeView } from "../kind";

const view: ProbeView = {
  kind: "switching",
  label: "touch probe",
  says: "A ball on a stem; it switches when the stylus is pushed aside or up.",
  fields: [
    {
      label: "Stem diameter",
      field: "stem_diameter",
      kind: "length",
    },
  ],
  switches: [["It has a cable to take out", "cable"]],
  ball: true,
  qualified: true,
};

export default view;
