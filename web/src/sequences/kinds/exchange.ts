import { chooseExchange } from "../../work/choosing";
import { previewNow } from "../../work/document";
import { goTo } from "../../work/playback";
import { useSelection } from "../../work/selection";
import { named, toolIn } from "../parts";
import type { SequenceOf, SequenceView } from "../sequence";

const exchange: SequenceView<SequenceOf<"exchange">> = {
  kind: "exchange",
  name: (of) => `${named(of.from_tool)} to ${named(of.to_tool)}`,
  stage: "changer",
  address: (of) => ({ from: String(of.from_tool), to: String(of.to_tool) }),
  answer: "exchange",
  parts: ({ pair }) => ({ from: pair ? String(pair.from) : null, to: pair ? String(pair.to) : null }),
  title: ({ pair }) => (pair ? `${named(pair.from)} → ${named(pair.to)}` : ""),
  place: (asked, { pair, document }, gone) => {
    const tool = toolIn(document, gone);
    const found = { from: tool(asked.from, pair?.from ?? 0), to: tool(asked.to, pair?.to ?? 0) };
    return "from" in asked && found.from !== found.to ? { pair: found } : {};
  },
  none: "Choose an exchange: two pockets on the sheet, or T numbers at the right.",
  open: async (of, { under, finding, worst }) => {
    useSelection.setState({ stage: "exchange" });
    await chooseExchange({ from: of.from_tool, to: of.to_tool }, finding, under);
    const answer = previewNow();
    if (finding || under) return;
    const first = answer?.exchange?.findings.find((entry) => entry.severity === worst);
    if (first && worst !== "note") goTo(first);
  },
};
export default exchange;
