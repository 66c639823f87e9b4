/** Every pair under every fault: safe, unsafe, or what no signal of the machine could tell. */
import type { Proof } from "../../api/client";
import { SeverityMark } from "../../common/marks";
import { keyOf, sequenceName } from "../../sequences";
import type { Sequence } from "../../sequences/sequence";
import { useFaultName, useVocabulary } from "../../work/vocabulary";
import { Apart } from "./apart";
import { NamedRows } from "./named-rows";
import { exchangeOf, measuringOf, toolName, toolsOf } from "./naming";

type Verdict = Proof["faults"][number]["groups"][number]["verdict"];
type Open = (of: Sequence) => void;

const SEVERITY = { safe: null, unsafe: "stop", undetectable: "warn" } as const;
const ORDER: Verdict[] = ["unsafe", "undetectable", "safe"];

/** More tools than this, and the cells of a matrix are small. */
export const DENSE = 14;

/** The size of a matrix's cells: large ones while there is room for all of them. */
export function cellSize(count: number) {
  const [wide, high] = count > DENSE ? ["24px", "24px"] : ["44px", "40px"];
  return { "--cell-w": wide, "--cell-h": high, "--cells": count } as React.CSSProperties;
}

function counts(proof: Proof | null, fault: string): Record<Verdict, number> {
  const found: Record<Verdict, number> = { safe: 0, unsafe: 0, undetectable: 0 };
  for (const group of proof?.faults.find((entry) => entry.fault === fault)?.groups ?? [])
    found[group.verdict] += group.sequences.length;
  return found;
}

/** The faults, each with how its cases went; the chosen one is shown as a matrix. */
export function Faults({
  proof,
  fault,
  onFault,
}: {
  proof: Proof | null;
  fault: string;
  onFault: (fault: string) => void;
}) {
  const faultName = useFaultName();
  const faults = proof?.faults ?? [];
  if (faults.length === 0)
    return (
      <p className="px-4 py-3 text-[13.5px] text-ink-3">
        Each pair is run normally and under every fault that applies.
      </p>
    );
  return (
    <>
      <div className="group-title">
        Under faults <small>{proof?.cases} cases</small>
      </div>
      <ul aria-label="Faults">
        {faults.map(({ fault: name }) => {
          const found = counts(proof, name);
          const worst = ORDER.find((verdict) => found[verdict] > 0) ?? "safe";
          return (
            <li key={name}>
              <button
                type="button"
                aria-pressed={fault === name}
                className={`grid min-h-10 w-full grid-cols-[24px_1fr_auto] items-center px-4 text-left ${fault === name ? "bg-now-wash shadow-[inset_3px_0_var(--now)]" : ""}`}
                onClick={() => onFault(name)}
                data-fault={name}
                data-verdict={worst}
              >
                <SeverityMark severity={SEVERITY[worst]} />
                <span>{faultName(name)}</span>
                <small className="text-[13.5px] text-ink-3">
                  {worst === "safe"
                    ? found.safe
                    : `${found[worst]} of ${found.safe + found.unsafe + found.undetectable}`}
                </small>
              </button>
            </li>
          );
        })}
      </ul>
    </>
  );
}

/** The pairs under one fault. */
export function FaultMatrix({ proof, fault, onOpen }: { proof: Proof | null; fault: string; onOpen: Open }) {
  const faultName = useFaultName();
  const stale = new Set(proof?.sequences.filter((entry) => entry.stale).map((entry) => keyOf(entry.sequence)));
  const groups = proof?.faults.find((entry) => entry.fault === fault)?.groups ?? [];
  const verdicts = new Map(groups.flatMap((group) => group.sequences.map((of) => [keyOf(of), group.verdict] as const)));
  const { exchanged: labels, measured } = toolsOf(proof?.sequences.map((entry) => entry.sequence) ?? []);
  const cellOf = (of: Sequence) => {
    const key = keyOf(of);
    return <FaultCell key={key} of={of} verdict={verdicts.get(key)} stale={stale.has(key)} onOpen={onOpen} />;
  };
  return (
    <div className="flex h-full flex-col overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[17px] font-semibold">Every sequence, {faultName(fault)}</h2>
      <table
        className="matrix mt-2 border-separate border-spacing-0 self-start"
        aria-label={`Matrix under ${fault}`}
        style={cellSize(labels.length)}
      >
        <thead>
          <tr>
            <td className="pr-2 text-right text-[13px] text-ink-3">from ↓ to →</td>
            {labels.map((tool) => (
              <th key={tool} className="w-(--cell-w) pb-1 text-center text-[14px] font-normal text-ink-2">
                {labels.length > DENSE && tool ? tool : toolName(tool)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {labels.map((from) => (
            <tr key={from}>
              <th className="pr-2 text-right text-[14px] font-normal text-ink-2">{toolName(from)}</th>
              {labels.map((to) =>
                from === to ? <td key={to} className="border border-rule-2" /> : cellOf(exchangeOf(from, to)),
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <Apart tools={measured} size={cellSize(measured.length)} cell={(tool) => cellOf(measuringOf(tool))} />
      <NamedRows proof={proof} cell={(result) => cellOf(result.sequence)} />
      <Legend />
    </div>
  );
}

interface CellProps {
  of: Sequence;
  verdict: Verdict | undefined;
  stale: boolean;
  onOpen: Open;
}

function FaultCell({ of, verdict, stale, onOpen }: CellProps) {
  const words = useVocabulary((known) => known.verdicts);
  if (!verdict)
    return (
      <td className="h-(--cell-h) w-(--cell-w) border border-rule-2 text-center text-ink-3" title="not applicable">
        –
      </td>
    );
  const wash = verdict === "unsafe" ? "bg-stop-wash" : verdict === "safe" ? "" : "bg-warn-wash";
  return (
    <td className={`border border-rule p-0 ${wash} ${stale ? "opacity-60" : ""}`}>
      <button
        type="button"
        className="grid h-(--cell-h) w-(--cell-w) place-items-center"
        aria-label={`${sequenceName(of)}, ${words[verdict]}`}
        onClick={() => onOpen(of)}
      >
        <SeverityMark severity={SEVERITY[verdict]} />
      </button>
    </td>
  );
}

function Legend() {
  const words = useVocabulary((known) => known.verdicts);
  return (
    <ul className="mt-3 flex flex-wrap gap-x-5 text-[13.5px] text-ink-2">
      {(["safe", "undetectable", "unsafe"] as const).map((verdict) => (
        <li key={verdict} className="flex items-center gap-1.5">
          <SeverityMark severity={SEVERITY[verdict]} /> {words[verdict]}
        </li>
      ))}
      <li>– not applicable</li>
    </ul>
  );
}

/** What a fault came to, grouped, the worst first. */
export function FaultGroups({ proof, fault, onOpen }: { proof: Proof | null; fault: string; onOpen: Open }) {
  const words = useVocabulary((known) => known.verdicts);
  const groups = proof?.faults.find((entry) => entry.fault === fault)?.groups ?? [];
  return (
    <section aria-label="Results">
      <h3 className="px-4 pt-3 pb-2 font-semibold">Results</h3>
      <ul>
        {groups.map((group) => {
          const first = group.sequences[0];
          return (
            <li
              key={group.verdict + group.check}
              className="grid grid-cols-[22px_1fr] gap-2 border-t border-rule-2 px-3.5 py-2 text-[14.5px] leading-snug"
              data-group={group.verdict}
            >
              <SeverityMark severity={SEVERITY[group.verdict]} />
              <div>
                <p>
                  <b className="font-medium">{words[group.verdict]}</b>: {group.says}
                </p>
                {first && (
                  <button type="button" className="link mt-1" onClick={() => onOpen(first)}>
                    {group.sequences.length} {group.sequences.length === 1 ? "sequence" : "sequences"}, first{" "}
                    {sequenceName(first)}
                  </button>
                )}
              </div>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
