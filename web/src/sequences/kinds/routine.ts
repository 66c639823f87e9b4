import { chooseMeasuring } from "../../work/choosing";
import { useSelection } from "../../work/selection";
import type { SequenceOf, SequenceView } from "../sequence";

const routine: SequenceView<SequenceOf<"routine">> = {
  kind: "routine",
  name: (of) => of.name,
  stage: "routines",
  address: (of) => ({ routine: of.name }),
  answer: "probing",
  parts: ({ answer }) => ({ routine: answer?.probing?.routine || null }),
  title: ({ answer }) => answer?.probing?.routine ?? "",
  place: ({ routine }, { answer, measuring }, gone) => {
    if (!routine) return {};
    if (answer?.probing?.routines.some((entry) => entry.name === routine))
      return { measuring: { ...measuring, routine } };
    gone(`The routine “${routine}”`);
    return {};
  },
  none: "Choose a routine in the schedule on the left.",
  open: async (of, { under }) => {
    useSelection.setState({ stage: "probing" });
    await chooseMeasuring({ routine: of.name }, under);
  },
};
export default routine;
