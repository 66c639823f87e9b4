/** A stylus, or the tool itself, that closes a circuit through the part. */
import { RIGID } from "../common";
import type { ProbeView } from "../kind";

const view: ProbeView = {
  kind: "conductive",
  label: "conductive stylus or tool",
  name: "stylus",
  says: "A stylus or the tool itself closes a circuit through the part, by way of a clip.",
  template: (_, name, tool, input) => ({ ...RIGID, kind: "conductive", name, tool, input, clip: true }),
  fields: [],
  switches: [["A clip is put on the part", "clip"]],
  qualified: true,
};

export default view;
