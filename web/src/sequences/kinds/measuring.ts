import { chooseMeasuring } from "../../work/choosing";
import { type MeasuringName, useSelection } from "../../work/selection";

import { named, toolIn } from "../parts";
import type { SequenceOf, SequenceView, Shown } from "../sequence";

const known = ({ answer }: Shown, asked: string | null | undefined) =>
  answer?.measuring?.sequences.find((name) => name === asked) as MeasuringName | undefined;

const measuring: SequenceView<SequenceOf<"measuring">> = {
  kind: "measuring",
  name: (of) =>
    `${of.name === "measure" ? "measuring" : `${of.name} with`} ${of.tools.map((tool) => `T${tool}`).join(", ")}`,
  stage: "setter",
  address: (of) => ({ sequence: of.name, tools: of.tools.join(",") }),
  answer: "measuring",
  parts: ({ answer }) => ({
    sequence: answer?.measuring?.sequence ?? null,
    tools: answer?.measuring?.tools.join(",") || null,
    setter: answer?.measuring?.setter ?? null,
  }),
  title: ({ answer }) => answer?.measuring?.tools.map(named).join(", ") ?? "",
  place: (asked, work, gone) => {
    if (!("sequence" in asked)) return {};
    const tool = toolIn(work.document, gone);
    const setter = work.document?.setters.find((entry) => entry.name === asked.setter)?.name;
    if (asked.setter && !setter) gone(`The setter “${asked.setter}”`);
    return {
      measuring: {
        ...work.measuring,
        sequence: known(work, asked.sequence) ?? work.measuring.sequence,
        tools: (asked.tools?.split(",").map((text) => tool(text, 0)) ?? []).filter((number) => number > 0),
        setter: setter ?? work.measuring.setter,
      },
    };
  },
  none: "Choose a sequence and its tool at the right.",
  open: async (of, { under }) => {
    useSelection.setState({ stage: "measuring" });
    await chooseMeasuring({ sequence: of.name as "measure", tools: of.tools }, under);
  },
};
export default measuring;
