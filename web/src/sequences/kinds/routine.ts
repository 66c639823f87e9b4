import { useWork } from "../../work/store";
import type { SequenceOf, SequenceView } from "../sequence";

const routine: SequenceView<SequenceOf<"routine">> = {
  kind: "routine",
  name: (of) => of.name,
  stage: "routines",
  address: (of) => ({ routine: of.name }),
  open: async (of, { under }) => {
    useWork.setState({ stage: "probing" });
    await useWork.getState().measure({ routine: of.name }, under);
  },
};
export default routine;
