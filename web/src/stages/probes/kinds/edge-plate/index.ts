/** A plate that lies on a corner of the part, and is touched by the tool. */
import type { ProbeView } from "../kind";

const view: ProbeView = {
  kind: "plate with edges",
  label: "plate with edges",
  says: "It lies on the part's corner; the tool touches its top and its two outer faces.",
  fields: [
    {
      label: "Thickness of the plate",
      field: "thickness",
      kind: "length",
      twice: true,
    },
    {
      label: "Edge along X",
      field: "edge_x",
      kind: "length",
      twice: true,
    },
    {
      label: "Edge along Y",
      field: "edge_y",
      kind: "length",
      twice: true,
    },
    { label: "Size of the plate", field: "size", kind: "length" },
  ],
  switches: [["A clip is put on the tool", "clip"]],
  ball: false,
  qualified: false,
};

export default view;
