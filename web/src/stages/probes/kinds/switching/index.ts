/** A ball on a stem, which switches when it is pushed. */
import { USUAL } from "../common";
import type { ProbeView } from "../kind";

const view: ProbeView = {
  kind: "switching",
  label: "touch probe",
  name: "touch probe",
  says: "A ball on a stem; it switches when the stylus is pushed aside or up.",
  template: (_, name, tool, input) => ({
    ...USUAL,
    kind: "switching",
    name,
    tool,
    input,
    stem_diameter: 3,
    cable: false,
  }),
  fields: [
    {
      label: "Stem diameter",
      field: "stem_diameter",
      kind: "length",
      hint: "What carries the ball: it must not touch first.",
    },
  ],
  switches: [["It has a cable to take out", "cable"]],
  qualified: true,
};

export default view;
