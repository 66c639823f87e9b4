/** The Proof stage: every pair as a matrix, causes worst first, progress while it runs. */

import { FileCode, TextSearch } from "lucide-react";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { client, type Finding, noConnection, type Proof, refusal } from "../../api/client";
import { knownOf, learn, useAnswer } from "../../api/query";
import { FindingItem } from "../../findings/findings";
import { Bring } from "../../program/bring";
import { fixed } from "../../quantity/format";
import { useUnit } from "../../quantity/rows";
import { SeverityMark, StageMark } from "../../shell/marks";
import { Panels } from "../../shell/panels";
import { Progress } from "../../shell/progress";
import { may } from "../../shell/session";
import { place, said } from "../../shell/value";
import { useWork } from "../../work/store";
import { useStyle, viewOf } from "../changer/styles";
import { Apart } from "./apart";
import { cellSize, DENSE, FaultGroups, FaultMatrix, Faults } from "./faults";
import { keyOf, labelsOf, named, pairNamed, type Sequence } from "./naming";
import { ReviewFindings, Reviews } from "./reviews/reviews";
import { useReview } from "./reviews/use-review";
import { RoutineRows } from "./routine-rows";
import { Savings, Times } from "./times";

type PairResult = Proof["pairs"][number];

const PROGRESS = 200;

/** The newest proof of the machine; asked for again while it runs. */
function useProof(slug: string | null, brought: boolean) {
  const changed = useWork((work) => work.machine?.changed);
  const [refused, setTrouble] = useState("");
  const key = ["proof", slug, brought, changed];
  const newest = useAnswer<Proof | null>(
    slug ? key : null,
    () => {
      const brief = knownOf<Proof | null>(key)?.state === "running";
      return client.GET("/api/machines/{slug}/proofs/latest", {
        params: { path: { slug: slug ?? "" }, query: { brought, brief } },
      });
    },
    { every: (known) => known?.state === "running" && PROGRESS, keep: 3 },
  );
  const proof = newest.data ?? null;
  const running = proof?.state === "running";
  // biome-ignore lint/correctness/useExhaustiveDependencies: the marks of the stages change when it starts and when it ends
  useEffect(() => {
    void useWork.getState().refresh();
  }, [running]);
  const start = async (own?: { file: string; text: string }) => {
    if (!slug) return;
    const { data, error } = await client
      .POST("/api/machines/{slug}/proofs", { params: { path: { slug } }, body: own ?? { text: "", file: "" } })
      .catch(noConnection);
    setTrouble(data ? "" : refusal(error));
    if (data) learn<Proof | null>(key, data);
  };
  const stop = async () => {
    if (!slug || !proof) return;
    const { data, error } = await client
      .POST("/api/machines/{slug}/proofs/{number}/cancel", { params: { path: { slug, number: proof.id } } })
      .catch(noConnection);
    setTrouble(data ? "" : refusal(error));
    await newest.refetch();
  };
  return { proof, trouble: refused || newest.trouble, start, stop };
}

type Shown = "written" | "own" | "review";

export default function ProofStage() {
  const slug = useWork((work) => work.slug);
  const [shown, setShown] = useState<Shown>("written");
  const own = shown === "own";
  const review = useReview();
  const [line, setLine] = useState<{ line: number } | null>(null);
  const { proof, trouble, start, stop } = useProof(slug, own);
  const [hovered, setHovered] = useState<PairResult | null>(null);
  const [fault, setFault] = useState("none");
  const navigate = useNavigate();
  const open = async (pair: Sequence, finding?: Finding) => {
    useWork.setState({ brought: proof?.brought ? { file: proof.file, text: proof.brought } : null });
    const under = fault === "none" || fault === "stopped" ? null : fault;
    if (pair.routine) {
      await useWork.getState().measure({ routine: pair.routine }, under);
      navigate(`/machines/${slug}/routines`);
      return;
    }
    if (pair.from_tool === pair.to_tool) {
      await useWork.getState().measure({ sequence: "measure", tools: [pair.from_tool] }, under);
      navigate(`/machines/${slug}/setter`);
      return;
    }
    await useWork.getState().choose({ from: pair.from_tool, to: pair.to_tool }, finding, under);
    navigate(`/machines/${slug}/changer`);
  };
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)_58px]">
      <Panels
        name="proof"
        left={
          <Sequences
            proof={proof}
            fault={fault}
            onFault={setFault}
            shown={shown}
            onShow={setShown}
            onBring={(brought) => {
              setShown("own");
              void start(brought);
            }}
          />
        }
        middle={
          shown === "review" ? (
            <Reviews of={review} at={line} onAt={setLine} />
          ) : fault === "none" ? (
            <Matrix proof={proof} onOpen={open} hovered={hovered} onHover={setHovered} />
          ) : (
            <FaultMatrix proof={proof} fault={fault} onOpen={open} />
          )
        }
        right={
          shown === "review" ? (
            <ReviewFindings review={review.review} at={line} onAt={setLine} />
          ) : fault === "none" ? (
            <Causes proof={proof} onOpen={open} />
          ) : (
            <FaultGroups proof={proof} fault={fault} onOpen={open} />
          )
        }
        rightSize={330}
      />
      <Foot
        proof={proof}
        trouble={trouble}
        onStart={() => start(proof?.brought ? { file: proof.file, text: proof.brought } : undefined)}
        onStop={stop}
      />
    </div>
  );
}

function ordinal(number: number): string {
  return ["first", "second", "third"][number - 1] ?? `${number}th`;
}

function outcome(proof: Proof | null): string {
  if (!proof) return "not run";
  if (proof.stale) return "stale";
  return proof.stop ? `${proof.stop} with a stop` : proof.unsafe ? `${proof.unsafe} unsafe` : proof.state;
}

function SequenceRow(props: { chosen: boolean; onChoose: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={props.chosen}
      className={`grid min-h-10 w-full grid-cols-[24px_1fr_auto] items-center border-t border-rule-2 px-4 ${props.chosen ? "bg-now-wash shadow-[inset_3px_0_var(--now)]" : ""}`}
      onClick={props.onChoose}
    >
      {props.children}
    </button>
  );
}

/** Take a program of the user's own, to be proven as the written one is: the same pairs, the same faults. */
function BringOwn({ onBring }: { onBring: (brought: { file: string; text: string }) => void }) {
  return (
    <div className="px-4 py-2 pl-10 text-[13.5px] text-ink-2">
      <p>Called with the tool in the spindle and the requested one, as the written program is.</p>
      <Bring label="Prove a file" onBring={onBring} />
    </div>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

function Sequences({
  proof,
  fault,
  onFault,
  shown,
  onShow,
  onBring,
}: {
  proof: Proof | null;
  fault: string;
  onFault: (fault: string) => void;
  shown: Shown;
  onShow: (shown: Shown) => void;
  onBring: (brought: { file: string; text: string }) => void;
}) {
  const stage = useWork((work) => work.machine?.stages.find((entry) => entry.name === "Proof"));
  const mark = stage?.mark ?? "open";
  const style = useStyle();
  const unit = useUnit();
  const own = shown === "own";
  return (
    <section aria-label="Sequences">
      <div className="group-title">
        Sequences <small>{proof ? `${proof.total} in the proof` : ""}</small>
      </div>
      <SequenceRow chosen={shown === "written"} onChoose={() => onShow("written")}>
        <StageMark mark={mark} />
        <span className="text-left">{style ? capital(style.name) : "None"}</span>
        <small className="text-[13.5px] text-ink-3">{own ? "as written" : outcome(proof)}</small>
      </SequenceRow>
      <SequenceRow chosen={own} onChoose={() => onShow("own")}>
        <FileCode size={18} className="text-ink-2" />
        <span className="truncate text-left">{(own && proof?.file) || "A program of yours"}</span>
        <small className="text-[13.5px] text-ink-3">{own ? outcome(proof) : ""}</small>
      </SequenceRow>
      <SequenceRow chosen={shown === "review"} onChoose={() => onShow("review")}>
        <TextSearch size={18} className="text-ink-2" />
        <span className="text-left">Review a program</span>
        <small className="text-[13.5px] text-ink-3">of any kind</small>
      </SequenceRow>
      {own ? (
        <BringOwn onBring={onBring} />
      ) : (
        shown === "written" && <p className="px-4 py-2 pl-10 text-[13.5px] text-ink-2">{stage?.why}</p>
      )}
      {proof?.stale && shown !== "review" && (
        <ul className="px-4 pb-2 pl-10 text-[13.5px] text-warn">
          {proof.changes.slice(0, 8).map((change) => (
            <li key={change.where}>
              {place(change.where)} was {said(change.before, change.unit, unit)}, is now{" "}
              {said(change.after, change.unit, unit)}
            </li>
          ))}
          <li>
            by {proof.changed_by}, {proof.changed_at && new Date(proof.changed_at).toLocaleString()}
          </li>
        </ul>
      )}
      {proof && (
        <p className="px-4 pl-10 text-[13.5px] text-ink-3">
          Run on revision {proof.revision} by {proof.author}, {new Date(proof.started).toLocaleString()}.
        </p>
      )}
      {shown !== "review" && <Faults proof={proof} fault={fault} onFault={onFault} />}
    </section>
  );
}

interface MatrixProps {
  proof: Proof | null;
  hovered: PairResult | null;
  onHover: (pair: PairResult | null) => void;
  onOpen: (pair: PairResult, finding?: Finding) => void;
}

function Matrix({ proof, hovered, onHover, onOpen }: MatrixProps) {
  const tools = useWork((work) => work.document?.tools) ?? [];
  const byHand = useStyle()?.anyTool;
  const stored = tools.filter((tool) => byHand || tool.pocket !== null).map((tool) => tool.number);
  const measured = useWork((work) => (work.document?.setters.length ?? 0) > 0) && tools.length > 0;
  const { exchanged: fromProof, measured: alone } = labelsOf(proof?.pairs ?? []);
  const complete = proof && (proof.state !== "running" || proof.stale);
  const labels = [...new Set([0, ...(complete && fromProof.length ? fromProof : stored)])].sort((a, b) => a - b);
  const routines = useWork((work) => work.document?.routines.length ?? 0) > 0;
  if (!stored.length && !measured && !routines)
    return (
      <p className="h-full bg-sheet p-6 text-ink-2">
        There is nothing to prove yet. Store tools in pockets on the Tools stage, or add a setter or a routine.
      </p>
    );
  return (
    <div className="flex h-full flex-col overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[17px] font-semibold">Every sequence: as it should go</h2>
      {stored.length > 0 && <Cells labels={labels} proof={proof} onHover={onHover} onOpen={onOpen} />}
      <Apart
        tools={alone}
        size={cellSize(alone.length)}
        cell={(tool) => (
          <Cell same result={resultOf(proof, tool)} name={measuring(tool)} onHover={onHover} onOpen={onOpen} />
        )}
      />
      <RoutineRows
        proof={proof}
        cell={(name, result) => <Cell same={false} result={result} name={name} onHover={onHover} onOpen={onOpen} />}
      />
      <Hovered proof={proof} hovered={hovered} />
      <Legend />
      {proof && <Times times={proof.times} />}
      {proof?.times[0] && !proof.brought && <Savings pair={proof.times[0]} />}
    </div>
  );
}

function Cells({ labels, proof, onHover, onOpen }: Omit<MatrixProps, "hovered"> & { labels: number[] }) {
  const results = new Map(proof?.pairs.map((pair) => [keyOf(pair), pair]));
  return (
    <table
      className="mt-2 border-separate border-spacing-0 self-start"
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
              {labels.length > DENSE && tool ? tool : named(tool)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {labels.map((from) => (
          <tr key={from}>
            <th className="pr-2 text-right text-[14px] font-normal text-ink-2">{named(from)}</th>
            {labels.map((to) => (
              <Cell
                key={to}
                same={from === to}
                result={results.get(`${from}-${to}`)}
                name={pairNamed({ from_tool: from, to_tool: to, routine: "" })}
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

const resultOf = (proof: Proof | null, tool: number) =>
  proof?.pairs.find((pair) => pair.from_tool === tool && pair.to_tool === tool && !pair.routine);

const measuring = (tool: number) => pairNamed({ from_tool: tool, to_tool: tool, routine: "" });

function Hovered({ proof, hovered }: Pick<MatrixProps, "proof" | "hovered">) {
  return (
    <p className="mt-3 min-h-12 text-[15px]" aria-live="polite">
      {hovered ? (
        <>
          <b className="font-semibold">{pairNamed(hovered)}</b> {fixed(hovered.seconds, 1)} s.{" "}
          {hovered.findings[0]?.message ?? "Nothing to say."}
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

const WASH = { stop: "bg-stop-wash", warn: "bg-warn-wash", note: "" } as const;

function Cell(props: {
  same: boolean;
  result?: PairResult;
  name: string;
  onHover: (pair: PairResult | null) => void;
  onOpen: MatrixProps["onOpen"];
}) {
  const { same, result, name, onHover, onOpen } = props;
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
  const told = `${worst ? `${worst}: ${finding?.message}` : "nothing to stop it"}${result.stale ? ", stale" : ""}`;
  return (
    <td className={`border border-rule p-0 ${worst ? WASH[worst] : ""} ${result.stale ? "opacity-60" : ""}`}>
      <button
        type="button"
        className="grid h-(--cell-h) w-(--cell-w) place-items-center"
        aria-label={`${name}, ${told}`}
        data-worst={worst ?? "none"}
        onMouseEnter={() => onHover(result)}
        onFocus={() => onHover(result)}
        onMouseLeave={() => onHover(null)}
        onClick={() => onOpen(result, finding)}
      >
        <SeverityMark severity={worst} />
      </button>
    </td>
  );
}

function Legend() {
  return (
    <ul className="mt-2 flex flex-wrap gap-x-5 gap-y-1 text-[13.5px] text-ink-2">
      {([null, "warn", "stop"] as const).map((severity) => (
        <li key={severity ?? "none"} className="flex items-center gap-1.5">
          <SeverityMark severity={severity} /> {severity === null ? "nothing to stop it" : severity}
        </li>
      ))}
      <li className="flex items-center gap-1.5">· not run</li>
    </ul>
  );
}

function Causes({ proof, onOpen }: { proof: Proof | null; onOpen: (pair: Sequence, finding?: Finding) => void }) {
  const causes = proof?.causes ?? [];
  return (
    <section aria-label="Causes">
      <h3 className="flex justify-between px-4 pt-3 pb-2 font-semibold">
        Causes, worst first <span className="font-normal text-ink-3">{causes.length}</span>
      </h3>
      {proof?.state === "done" && !causes.length && <p className="px-4 text-ink-2">No finding in any sequence.</p>}
      {!proof && <p className="px-4 text-ink-2">Not run yet.</p>}
      <ul>
        {causes.map((cause) => (
          <FindingItem
            key={cause.finding.check + cause.finding.message}
            finding={cause.finding}
            extra={`${cause.pairs.length} ${cause.pairs.length === 1 ? "sequence" : "sequences"}, first ${cause.pairs[0] ? pairNamed(cause.pairs[0]) : "none"}`}
            onGo={() => cause.pairs[0] && onOpen(cause.pairs[0], cause.finding)}
          />
        ))}
      </ul>
    </section>
  );
}

/** How far the proof is, or why it is not. */
function Standing({ proof, trouble }: { proof: Proof | null; trouble: string | null }) {
  return (
    <span className="min-w-40">
      {trouble ? (
        <span className="text-stop">{trouble}</span>
      ) : proof ? (
        proof.place > 0 ? (
          `waits for its turn: ${ordinal(proof.place)} in line`
        ) : (
          `${proof.done} of ${proof.total} sequences${proof.state === "cancelled" ? ", stopped" : ""}`
        )
      ) : (
        "not run"
      )}
      {proof?.state === "failed" && <span className="text-stop"> {proof.error}</span>}
    </span>
  );
}

function Foot({
  proof,
  trouble,
  onStart,
  onStop,
}: {
  proof: Proof | null;
  trouble: string | null;
  onStart: () => void;
  onStop: () => void;
}) {
  const running = proof?.state === "running";
  const part = proof?.total ? proof.done / proof.total : 0;
  const saving = useWork((work) => work.saving);
  const can = useWork(
    (work) =>
      work.document != null &&
      ((work.document.setters.length > 0 && work.document.tools.length > 0) ||
        work.document.routines.length > 0 ||
        (work.document.changer != null &&
          work.document.tools.some((tool) => tool.pocket !== null || viewOf(work.document?.changer)?.anyTool))),
  );
  return (
    <div className="flex items-center gap-4 border-t border-rule bg-panel px-4">
      <button type="button" className="button" disabled={!running} onClick={onStop}>
        Stop
      </button>
      <Progress of="proof" share={part} className="flex-1" />
      <Standing proof={proof} trouble={trouble} />
      {may("technician") && (
        <button
          type="button"
          className="button first"
          disabled={running || !can || saving !== "saved"}
          onClick={onStart}
        >
          {proof?.stale || !proof ? "Run the proof" : "Run it again"}
        </button>
      )}
    </div>
  );
}
