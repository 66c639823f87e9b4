/** Measuring of every tool under every fault; a cell plays it. */
import type { ToolResult } from "../../api/client";
import { SeverityMark } from "../../shell/marks";
import { useWork } from "../../work/store";
import { useFaultName, useVocabulary } from "../../work/vocabulary";
import { useProven } from "./proven";

const SEVERITY = { safe: null, unsafe: "stop", undetectable: "warn" } as const;

export function UnderFaults({ onPlay }: { onPlay: () => void }) {
  const { document, results, why } = useProven();
  const tools = useWork((work) => work.document?.tools) ?? [];
  const stale = useWork((work) => document !== null && work.document !== document);
  const faultName = useFaultName();
  const faults = [...new Set(Object.values(results).flatMap((result) => result.faults.map((entry) => entry.fault)))];
  const play = (tool: number, fault: string) => {
    void useWork.getState().measure({ sequence: "measure", tools: [tool] }, fault === "none" ? null : fault);
    onPlay();
  };
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[17px] font-semibold">Measuring every tool, under every fault</h2>
      <Run />
      {stale && <p className="text-warn">The Setup has changed since: run it again.</p>}
      {faults.length > 0 && (
        <table className="mt-2 border-separate border-spacing-0" aria-label="Measuring under faults">
          <thead>
            <tr>
              <td />
              {tools.map((tool) => (
                <th key={tool.number} className="w-11 pb-1 text-center text-[14px] font-normal text-ink-2">
                  T{tool.number}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {faults.map((fault) => (
              <tr key={fault}>
                <th className="pr-3 text-left text-[14.5px] font-normal text-ink-2">{faultName(fault)}</th>
                {tools.map((tool) => (
                  <Cell
                    key={tool.number}
                    tool={tool.number}
                    found={results[tool.number]?.faults.find((entry) => entry.fault === fault)}
                    onPlay={() => play(tool.number, fault)}
                  />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <ul className="mt-3 text-[14.5px]">
        {Object.entries(why).map(([tool, says]) => (
          <li key={tool} className="text-stop">
            T{tool}: {says}
          </li>
        ))}
      </ul>
      <Worst results={Object.values(results)} />
    </div>
  );
}

function Run() {
  const { progress, prove, stop, document } = useProven();
  if (!progress)
    return (
      <p className="mt-1 flex items-center gap-3">
        <button type="button" className="button first" onClick={() => void prove()}>
          {document ? "Run it again" : "Run it"}
        </button>
        <span className="text-[14.5px] text-ink-2">
          Each tool as it should go, from every caller, and with its input dead, stuck or inverted, longer, shorter,
          another one.
        </span>
      </p>
    );
  return (
    <p className="mt-1 flex items-center gap-3">
      <button type="button" className="button" onClick={stop}>
        Stop
      </button>
      <span role="status">
        {progress[0]} of {progress[1]} tools
      </span>
    </p>
  );
}

interface CellProps {
  tool: number;
  found: ToolResult["faults"][number] | undefined;
  onPlay: () => void;
}

function Cell({ tool, found, onPlay }: CellProps) {
  const words = useVocabulary((known) => known.verdicts);
  if (!found) return <td className="h-10 border border-rule-2 text-center text-ink-3">–</td>;
  const wash = found.verdict === "unsafe" ? "bg-stop-wash" : found.verdict === "safe" ? "" : "bg-warn-wash";
  return (
    <td className={`border border-rule p-0 ${wash}`} title={found.says} data-verdict={found.verdict}>
      <button
        type="button"
        className="grid h-10 w-11 place-items-center"
        aria-label={`T${tool}, ${found.fault}: ${words[found.verdict]}`}
        onClick={onPlay}
      >
        <SeverityMark severity={SEVERITY[found.verdict]} />
      </button>
    </td>
  );
}

/** What is not safe, in words, each once. */
function Worst({ results }: { results: ToolResult[] }) {
  const bad = results.flatMap((result) =>
    result.faults.filter((entry) => entry.verdict !== "safe").map((entry) => ({ tool: result.tool, ...entry })),
  );
  if (!results.length) return null;
  if (!bad.length) return <p className="text-proven">✓ Nothing is unsafe, and everything is noticed.</p>;
  return (
    <ul className="mt-1 text-[14.5px]" aria-label="Not safe">
      {bad.map((entry) => (
        <li
          key={`${entry.tool} ${entry.fault}`}
          className="grid grid-cols-[22px_1fr] gap-2 border-t border-rule-2 py-1.5"
        >
          <SeverityMark severity={SEVERITY[entry.verdict]} />
          <span>
            T{entry.tool}: {entry.says}
          </span>
        </li>
      ))}
    </ul>
  );
}
