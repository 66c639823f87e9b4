/** Every routine under every fault, and with the part otherwise than expected. */
import { FaultTable } from "../../score/fault-table";
import { choose } from "../../touching/which-routine";
import { usePreview } from "../../work/document";
import { useProven } from "./proven";

export function UnderFaults({ onPlay }: { onPlay: () => void }) {
  const routines = usePreview((answer) => answer?.probing?.routines) ?? [];
  return (
    <FaultTable
      title="Every routine, under every fault"
      label="Routines under faults"
      says="Each routine from every caller, with its input dead, stuck or inverted, and with the part missing, off its place, turned, or something in the way."
      counted="routines"
      columns={routines.map((entry) => ({ name: entry.name, label: entry.name }))}
      proven={useProven()}
      upright
      onPlay={(routine, fault) => {
        choose(routine, fault);
        onPlay();
      }}
    />
  );
}
