import { useWork } from "../../work/store";
import type { SequenceOf, SequenceView } from "../sequence";

const named = (tool: number) => (tool ? `T${tool}` : "empty");

const exchange: SequenceView<SequenceOf<"exchange">> = {
  kind: "exchange",
  name: (of) => `${named(of.from_tool)} to ${named(of.to_tool)}`,
  stage: "changer",
  address: (of) => ({ from: String(of.from_tool), to: String(of.to_tool) }),
  open: async (of, { under, finding, worst }) => {
    useWork.setState({ stage: "exchange" });
    await useWork.getState().choose({ from: of.from_tool, to: of.to_tool }, finding, under);
    const { answer, goTo } = useWork.getState();
    if (finding || under) return;
    const first = answer?.exchange?.findings.find((entry) => entry.severity === worst);
    if (first && worst !== "note") goTo(first);
  },
};
export default exchange;
