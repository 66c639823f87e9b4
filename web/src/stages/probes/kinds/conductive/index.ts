/** A stylus, or the tool itself, that closes a circuit through the part. */
import type { ProbeView } from "../kind";

const view: ProbeView = {
  kind: "conductive",
  label: "conductive stylus or tool",
  says: "A stylus or the tool itself closes a circuit through the part, by way of a clip.",
  fields: [],
  switches: [["A clip is put on the part", "clip"]],
  ball: false,
  qualified: true,
};

export default view;
