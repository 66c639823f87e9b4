import { useWork } from "../../work/store";
import type { SequenceOf, SequenceView } from "../sequence";

const measuring: SequenceView<SequenceOf<"measuring">> = {
  kind: "measuring",
  name: (of) => `measuring ${of.tools.map((tool) => `T${tool}`).join(", ")}`,
  stage: "setter",
  address: (of) => ({ sequence: of.name, tools: of.tools.join(",") }),
  open: async (of, { under }) => {
    useWork.setState({ stage: "measuring" });
    await useWork.getState().measure({ sequence: of.name as "measure", tools: of.tools }, under);
  },
};
export default measuring;
