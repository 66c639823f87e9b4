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
      hint: "Of its top, by a micrometer.",
      twice: true,
    },
    {
      label: "Edge along X",
      field: "edge_x",
      kind: "length",
      hint: "How far its outer face stands off the part's, along X.",
      twice: true,
    },
    {
      label: "Edge along Y",
      field: "edge_y",
      kind: "length",
      hint: "How far its outer face stands off the part's, along Y.",
      twice: true,
    },
    { label: "Size of the plate", field: "size", kind: "length", hint: "Of its top along the part's faces." },
  ],
  switches: [["A clip is put on the tool", "clip"]],
  qualified: false,
};

export default view;
