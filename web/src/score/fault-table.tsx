/** A stage's sequences under every fault: a column each, a row a fault; a cell plays it. */
import type { Under } from "../api/client";
import { SeverityMark } from "../common/marks";
import { useSetup } from "../work/document";
import { useFaultName, useVocabulary } from "../work/vocabulary";
import type { Proven } from "./proving";

const SEVERITY = { safe: null, unsafe: "stop", undetectable: "warn" } as const;

interface Column {
  /** as it is asked for */
  name: string;
  /** as it is said */
  label: string;
}

interface Props {
  title: string;
  label: string;
  /** what is run, in a sentence */
  says: string;
  /** what is counted while it runs: "tools" */
  counted: string;
  columns: Column[];
  proven: Proven;
  /** names are long: they stand upright */
  upright?: boolean;
  onPlay: (name: string, fault: string | null) => void;
}

export function FaultTable({ title, label, says, counted, columns, proven, upright, onPlay }: Props) {
  const { document, results, why } = proven;
  const stale = useSetup((setup) => document !== null && setup !== document);
  const faultName = useFaultName();
  const faults = [...new Set(Object.values(results).flatMap((result) => result.faults.map((entry) => entry.fault)))];
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[17px] font-semibold">{title}</h2>
      <Run proven={proven} says={says} counted={counted} />
      {stale && <p className="text-warn">The Setup has changed since: run it again.</p>}
      {faults.length > 0 && (
        <table className="mt-2 border-separate border-spacing-0" aria-label={label}>
          <thead className="sticky top-0 z-2 bg-sheet">
            <tr>
              <td className="sticky left-0 bg-sheet" />
              {columns.map((column) => (
                <th key={column.name} className="w-11 pb-1 align-bottom text-[14px] font-normal text-ink-2">
                  <span
                    className={
                      upright ? "block max-h-36 rotate-180 overflow-hidden text-left [writing-mode:vertical-rl]" : ""
                    }
                  >
                    {column.label}
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {faults.map((fault) => (
              <tr key={fault}>
                <th className="sticky left-0 z-1 bg-sheet pr-3 text-left text-[14.5px] font-normal whitespace-nowrap text-ink-2">
                  {faultName(fault)}
                </th>
                {columns.map((column) => (
                  <Cell
                    key={column.name}
                    label={column.label}
                    found={results[column.name]?.faults.find((entry) => entry.fault === fault)}
                    onPlay={() => onPlay(column.name, fault === "none" ? null : fault)}
                  />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <ul className="mt-3 text-[14.5px]">
        {columns.map(
          ({ name, label }) =>
            why[name] && (
              <li key={name} className="text-stop">
                {label}: {why[name]}
              </li>
            ),
        )}
      </ul>
      <Worst columns={columns} results={results} />
    </div>
  );
}

function Run({ proven, says, counted }: { proven: Proven; says: string; counted: string }) {
  const { progress, prove, stop, document } = proven;
  if (!progress)
    return (
      <p className="mt-1 flex items-center gap-3">
        <button type="button" className="button first" onClick={() => void prove()}>
          {document ? "Run it again" : "Run it"}
        </button>
        <span className="text-[14.5px] text-ink-2">{says}</span>
      </p>
    );
  return (
    <p className="mt-1 flex items-center gap-3">
      <button type="button" className="button" onClick={stop}>
        Stop
      </button>
      <span role="status">
        {progress[0]} of {progress[1]} {counted}
      </span>
    </p>
  );
}

function Cell({ label, found, onPlay }: { label: string; found: Under | undefined; onPlay: () => void }) {
  const words = useVocabulary((known) => known.verdicts);
  if (!found) return <td className="h-10 border border-rule-2 text-center text-ink-3">–</td>;
  const wash = found.verdict === "unsafe" ? "bg-stop-wash" : found.verdict === "safe" ? "" : "bg-warn-wash";
  return (
    <td className={`border border-rule p-0 ${wash}`} title={found.says} data-verdict={found.verdict}>
      <button
        type="button"
        className="grid h-10 w-11 place-items-center"
        aria-label={`${label}, ${found.fault}: ${words[found.verdict]}`}
        onClick={onPlay}
      >
        <SeverityMark severity={SEVERITY[found.verdict]} />
      </button>
    </td>
  );
}

/** What is not safe, in words, each once. */
function Worst({ columns, results }: { columns: Column[]; results: Proven["results"] }) {
  const bad = columns.flatMap(({ name, label }) =>
    (results[name]?.faults ?? []).filter((entry) => entry.verdict !== "safe").map((entry) => ({ label, ...entry })),
  );
  if (!Object.keys(results).length) return null;
  if (!bad.length) return <p className="text-proven">✓ Nothing is unsafe, and everything is noticed.</p>;
  return (
    <ul className="mt-1 text-[14.5px]" aria-label="Not safe">
      {bad.map((entry) => (
        <li
          key={`${entry.label} ${entry.fault}`}
          className="grid grid-cols-[22px_1fr] gap-2 border-t border-rule-2 py-1.5"
        >
          <SeverityMark severity={SEVERITY[entry.verdict]} />
          <span>
            {entry.label}: {entry.says}
          </span>
        </li>
      ))}
    </ul>
  );
}
