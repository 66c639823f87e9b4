/** Measuring of every tool under every fault. */
import { FaultTable } from "../../score/fault-table";
import { chooseMeasuring } from "../../work/choosing";
import { useSetup } from "../../work/document";
import { useProven } from "./proven";

export function UnderFaults({ onPlay }: { onPlay: () => void }) {
  const tools = useSetup((setup) => setup?.tools) ?? [];
  return (
    <FaultTable
      title="Measuring every tool, under every fault"
      label="Measuring under faults"
      says="Each tool: the normal run, every caller, and with its input dead, stuck or inverted, with a longer, a shorter and a wrong tool."
      counted="tools"
      columns={tools.map((tool) => ({ name: String(tool.number), label: `T${tool.number}` }))}
      proven={useProven()}
      onPlay={(tool, fault) => {
        void chooseMeasuring({ sequence: "measure", tools: [Number(tool)] }, fault);
        onPlay();
      }}
    />
  );
}
