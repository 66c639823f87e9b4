/** Every sequence as a matrix: what was found, or how close each passes. */
import { useState } from "react";
import type { Finding, Proof } from "../../api/client";
import { useStyle } from "../../changers";
import { SeverityMark } from "../../common/marks";
import { useUnit } from "../../fields/rows";
import { fixed, type MachineUnit, shown, unitOf } from "../../quantity/format";
import { keyOf, sequenceName } from "../../sequences";
import { useSetup } from "../../work/document";
import { Apart } from "./apart";
import { cellSize, DENSE } from "./faults";
import { NamedRows } from "./named-rows";
import { exchangeOf, measuringOf, toolName, toolsOf } from "./naming";
import { Savings, Times } from "./times";

export type Result = Proof["sequences"][number];

/** What a cell shows: what was found, or how close the sequence passes something. */
type Shows = "findings" | "clearance";

interface MatrixProps {
  proof: Proof | null;
  hovered: Result | null;
  onHover: (of: Result | null) => void;
  onOpen: (of: Result, finding?: Finding) => void;
}

export function Matrix({ proof, hovered, onHover, onOpen }: MatrixProps) {
  const tools = useSetup((setup) => setup?.tools) ?? [];
  const [shows, setShows] = useState<Shows>("findings");
  const results = resultsOf(proof);
  const longest = proof?.times[0]?.sequence;
  const byHand = useStyle()?.anyTool;
  const stored = tools.filter((tool) => byHand || tool.pocket !== null).map((tool) => tool.number);
  const measured = useSetup((setup) => (setup?.setters.length ?? 0) > 0) && tools.length > 0;
  const { exchanged: fromProof, measured: alone } = toolsOf(proof?.sequences.map((entry) => entry.sequence) ?? []);
  const complete = proof && (proof.state !== "running" || proof.stale);
  const labels = [...new Set([0, ...(complete && fromProof.length ? fromProof : stored)])].sort((a, b) => a - b);
  const routines = useSetup((setup) => setup?.routines.length ?? 0) > 0;
  if (!stored.length && !measured && !routines)
    return (
      <p className="h-full bg-sheet p-6 text-ink-2">
        There is nothing to prove yet. Store tools in pockets on the Tools stage, or add a setter or a routine.
      </p>
    );
  return (
    <div className="flex h-full flex-col overflow-auto bg-sheet px-6 py-4">
      <h2 className="flex flex-wrap items-center justify-between gap-x-6 text-[17px] font-semibold">
        Every sequence: normal run
        <CellChoice shows={shows} onShows={setShows} />
      </h2>
      {stored.length > 0 && <Cells labels={labels} proof={proof} shows={shows} onHover={onHover} onOpen={onOpen} />}
      <Apart
        tools={alone}
        size={cellSize(alone.length)}
        cell={(tool) => (
          <Cell
            same
            result={results.get(keyOf(measuringOf(tool)))}
            name={sequenceName(measuringOf(tool))}
            shows={shows}
            onHover={onHover}
            onOpen={onOpen}
          />
        )}
      />
      <NamedRows
        proof={proof}
        cell={(result) => (
          <Cell
            same={false}
            result={result}
            name={sequenceName(result.sequence)}
            shows={shows}
            onHover={onHover}
            onOpen={onOpen}
          />
        )}
      />
      <Hovered proof={proof} hovered={hovered} />
      <Legend shows={shows} />
      {proof && <Times times={proof.times} />}
      {longest?.kind === "exchange" && !proof?.imported && <Savings of={longest} />}
    </div>
  );
}

/** Which of the two the cells show. */
function CellChoice({ shows, onShows }: { shows: Shows; onShows: (shows: Shows) => void }) {
  return (
    <select
      className="choice min-h-10! w-auto! text-[14px] font-normal"
      aria-label="What the cells show"
      value={shows}
      onChange={(event) => onShows(event.currentTarget.value as Shows)}
    >
      <option value="findings">Findings</option>
      <option value="clearance">Clearance</option>
    </select>
  );
}

function Cells(props: Omit<MatrixProps, "hovered"> & { labels: number[]; shows: Shows }) {
  const { labels, proof, shows, onHover, onOpen } = props;
  const results = resultsOf(proof);
  return (
    <table
      className="matrix mt-2 border-separate border-spacing-0 self-start"
      aria-label="Matrix of exchanges"
      style={cellSize(labels.length)}
    >
      <thead>
        <tr>
          <td />
          <th colSpan={labels.length} className="text-[13px] font-normal text-ink-3">
            to
          </th>
        </tr>
        <tr>
          <td className="pr-2 text-right text-[13px] text-ink-3">from</td>
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
            {labels.map((to) => (
              <Cell
                key={to}
                same={from === to}
                result={from === to ? undefined : results.get(keyOf(exchangeOf(from, to)))}
                name={sequenceName(exchangeOf(from, to))}
                shows={shows}
                onHover={onHover}
                onOpen={onOpen}
              />
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const resultsOf = (proof: Proof | null) => new Map(proof?.sequences.map((entry) => [keyOf(entry.sequence), entry]));

function Hovered({ proof, hovered }: Pick<MatrixProps, "proof" | "hovered">) {
  return (
    <p className="mt-3 min-h-12 text-[15px]" aria-live="polite">
      {hovered ? (
        <>
          <b className="font-semibold">{sequenceName(hovered.sequence)}</b> {fixed(hovered.seconds, 1)} s.{" "}
          {hovered.findings[0]?.message ?? (hovered.worst ? "Open it for its finding." : "No findings.")}{" "}
          <Passing closest={hovered.closest} />
        </>
      ) : (
        <span className="text-ink-3">
          {proof
            ? "A cell opens its sequence, at the finding if it has one."
            : "Run the proof; then each cell opens its sequence."}
        </span>
      )}
    </p>
  );
}

/** What a sequence passes closest, in words. */
function Passing({ closest }: { closest: Result["closest"] }) {
  const unit = useUnit();
  if (!closest) return null;
  const way = closest.sideways > closest.height ? "sideways" : "in height";
  return (
    <span className="text-ink-2">
      Closest: {closest.mover} passes {closest.body} by {shown(closest.gap, "length", unit)} {unitOf("length", unit)}{" "}
      {way}, at {fixed(closest.at_seconds, 1)} s.
    </span>
  );
}

/** A clearance as a cell has room for it: a decimal where it is small. */
function figure(gap: number, unit: MachineUnit): string {
  if (unit === "inch") return fixed(gap / 25.4, 2);
  return fixed(gap, gap < 10 ? 1 : 0);
}

const WASH = { stop: "bg-stop-wash", warn: "bg-warn-wash", note: "" } as const;

function Cell(props: {
  same: boolean;
  result?: Result;
  name: string;
  shows: Shows;
  onHover: (of: Result | null) => void;
  onOpen: MatrixProps["onOpen"];
}) {
  const { same, result, name, shows, onHover, onOpen } = props;
  const unit = useUnit();
  if (same && !result)
    return (
      <td className="h-(--cell-h) w-(--cell-w) border border-rule-2">
        <svg width="100%" height="100%" viewBox="0 0 42 38" aria-hidden>
          <path d="M8 31L34 7" stroke="var(--rule)" />
        </svg>
      </td>
    );
  if (!result)
    return (
      <td
        className="h-(--cell-h) w-(--cell-w) border border-rule bg-paper text-center text-ink-3"
        title={`${name}: not run`}
      >
        ·
      </td>
    );
  const worst = result.worst === "note" ? null : result.worst;
  const finding = result.findings.find((entry) => entry.severity === worst) ?? undefined;
  const reported = `${worst ? `${worst}: ${finding?.message ?? "opens at its finding"}` : "OK"}${result.stale ? ", stale" : ""}`;
  return (
    <td className={`border border-rule p-0 ${worst ? WASH[worst] : ""} ${result.stale ? "opacity-60" : ""}`}>
      <button
        type="button"
        className="grid h-(--cell-h) w-(--cell-w) place-items-center"
        aria-label={`${name}, ${reported}`}
        data-worst={result.stale ? "stale" : (worst ?? "none")}
        onMouseEnter={() => onHover(result)}
        onFocus={() => onHover(result)}
        onMouseLeave={() => onHover(null)}
        onClick={() => onOpen(result, finding)}
      >
        {shows === "findings" ? (
          result.stale ? (
            <Stale />
          ) : (
            <SeverityMark severity={worst} />
          )
        ) : (
          <span className="text-[12.5px] tabular-nums">{result.closest ? figure(result.closest.gap, unit) : "–"}</span>
        )}
      </button>
    </td>
  );
}

/** It was proven with other numbers: it says nothing of these. */
function Stale() {
  return (
    <span className="text-[18px] text-warn" aria-hidden>
      ◌
    </span>
  );
}

function Legend({ shows }: { shows: Shows }) {
  const unit = useUnit();
  if (shows === "clearance")
    return (
      <p className="mt-2 text-[13.5px] text-ink-2">
        How close each sequence passes anything that it does not touch on purpose, {unitOf("length", unit)}; – nothing
        within {shown(50, "length", unit, "short")} {unitOf("length", unit)}.
      </p>
    );
  return (
    <ul className="mt-2 flex flex-wrap gap-x-5 gap-y-1 text-[13.5px] text-ink-2">
      {([null, "warn", "stop"] as const).map((severity) => (
        <li key={severity ?? "none"} className="flex items-center gap-1.5">
          <SeverityMark severity={severity} /> {severity === null ? "OK" : severity}
        </li>
      ))}
      <li className="flex items-center gap-1.5">
        <Stale /> stale: run it again
      </li>
      <li className="flex items-center gap-1.5">· not run</li>
    </ul>
  );
}
