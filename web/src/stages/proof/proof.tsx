/** The Proof stage: every pair as a matrix, causes worst first, progress while it runs. */

import { FileCode, Ruler, TextSearch } from "lucide-react";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { client, type Finding, noConnection, type Proof, refusal } from "../../api/client";
import { knownOf, learn, useAnswer } from "../../api/query";
import { useStyle } from "../../changers";
import { StageMark } from "../../common/marks";
import { Panels } from "../../common/panels";
import { useUnit } from "../../fields/rows";
import { FindingItem } from "../../findings/findings";
import { ImportProgram } from "../../program/import-program";
import { when } from "../../quantity/when";
import { addressOf, openSequence, sequenceName, stageAddress } from "../../sequences";
import type { Sequence } from "../../sequences/sequence";
import { useInAddress } from "../../session/address";
import { useMachine, useSlug } from "../../work/document";
import { place, said } from "../../work/naming";
import { seek } from "../../work/playback";
import { refresh } from "../../work/saving";
import { useSelection } from "../../work/selection";
import { useVocabulary } from "../../work/vocabulary";
import { FaultGroups, FaultMatrix, Faults } from "./faults";
import { Foot } from "./foot";
import { Matrix, type Result } from "./matrix";
import { ReviewFindings, Reviews } from "./reviews/reviews";
import { useReview } from "./reviews/use-review";
import { type OpenAt, RoomFoot, RoomList, RoomSide, useRooms } from "./room";

const PROGRESS = 200;

/** The newest proof of the machine; asked for again while it runs. */
function useProof(slug: string | null, imported: boolean) {
  const changed = useMachine((machine) => machine?.changed);
  const [refused, setTrouble] = useState("");
  const key = ["proof", slug, imported, changed];
  const newest = useAnswer<Proof | null>(
    slug ? key : null,
    () => {
      const brief = knownOf<Proof | null>(key)?.state === "running";
      return client.GET("/api/machines/{slug}/proofs/latest", {
        params: { path: { slug: slug ?? "" }, query: { imported, brief } },
      });
    },
    { every: (known) => known?.state === "running" && PROGRESS, keep: 3 },
  );
  const proof = newest.data ?? null;
  const running = proof?.state === "running";
  // biome-ignore lint/correctness/useExhaustiveDependencies: the marks of the stages change when it starts and when it ends
  useEffect(() => {
    void refresh();
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
  return { proof, trouble: refused || newest.trouble, setTrouble, start, stop };
}

/** The user's own program that is proven, to be played; null: the written one is. While a proof runs, its text is not sent with every look.
 *
 * @throws Error where it can't be had, with the reason: the written text must not be played in its place. */
async function playedText(slug: string | null, own: boolean, proof: Proof | null) {
  if (!own || !slug || !proof) return null;
  if (proof.imported) return { file: proof.file, text: proof.imported };
  const params = { path: { slug }, query: { imported: true, brief: false } };
  const { data, error } = await client.GET("/api/machines/{slug}/proofs/latest", { params }).catch(noConnection);
  if (!data?.imported) throw new Error(`The program of this proof can't be played now. ${data ? "" : refusal(error)}`);
  return { file: data.file, text: data.imported };
}

const LISTS = ["written", "own", "review", "room"] as const;

type Shown = (typeof LISTS)[number];

/** Playing a sequence on its stage as it was proven: the text, and the fault that is looked at. */
function useOpening(proof: Proof | null, own: boolean, fault: string, onTrouble: (says: string) => void) {
  const slug = useSlug();
  const navigate = useNavigate();
  const open = async (of: Sequence, finding?: Finding, worst?: Result["worst"]) => {
    const imported = await playedText(slug, own, proof).catch((failed: Error) => failed);
    onTrouble(imported instanceof Error ? imported.message.trim() : "");
    if (imported instanceof Error || !slug) return;
    const under = fault === "none" || fault === "stopped" ? null : fault;
    useSelection.setState({ imported });
    await openSequence(of, { under, finding, worst }); // while a proof runs, a cell has no more than the worst severity
    navigate(stageAddress(slug, of));
  };
  const openAt: OpenAt = async (of, at) => {
    await open(of);
    if (at !== null) seek(at);
  };
  return { open, openAt };
}

export default function ProofStage() {
  const slug = useSlug();
  const [shown, setShown] = useInAddress("list", LISTS, "written");
  const own = shown === "own";
  const review = useReview();
  const [line, setLine] = useState<{ line: number } | null>(null);
  const { proof, trouble, setTrouble, start, stop } = useProof(slug, own);
  const rooms = useRooms(slug);
  const [hovered, setHovered] = useState<Result | null>(null);
  const faults = useVocabulary((words) => words.faults);
  const [fault, setFault] = useInAddress("fault", Object.keys(faults), "none");
  const { open, openAt } = useOpening(proof, own, fault, setTrouble);
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
            onImport={(imported) => {
              setShown("own");
              void start(imported);
            }}
          />
        }
        middle={
          shown === "review" ? (
            <Reviews of={review} at={line} onAt={setLine} />
          ) : shown === "room" ? (
            <RoomList search={rooms.search} onOpen={openAt} />
          ) : fault === "none" ? (
            <Matrix
              proof={proof}
              onOpen={(of, finding) => open(of.sequence, finding, of.worst)}
              hovered={hovered}
              onHover={setHovered}
            />
          ) : (
            <FaultMatrix proof={proof} fault={fault} onOpen={open} />
          )
        }
        right={
          shown === "review" ? (
            <ReviewFindings review={review.review} at={line} onAt={setLine} />
          ) : shown === "room" ? (
            <RoomSide search={rooms.search} />
          ) : fault === "none" ? (
            <Causes proof={proof} onOpen={open} />
          ) : (
            <FaultGroups proof={proof} fault={fault} onOpen={open} />
          )
        }
        rightSize={330}
      />
      {shown === "room" ? (
        <RoomFoot of={rooms} />
      ) : (
        <Foot
          proof={proof}
          trouble={trouble}
          onStart={() => start(proof?.imported ? { file: proof.file, text: proof.imported } : undefined)}
          onStop={stop}
        />
      )}
    </div>
  );
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
function ImportOwn({ onImport }: { onImport: (imported: { file: string; text: string }) => void }) {
  return (
    <div className="px-4 py-2 pl-10 text-[13.5px] text-ink-2">
      <p>Called with the tool in the spindle and the requested one, as the written program is.</p>
      <ImportProgram label="Prove a file" onImport={onImport} />
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
  onImport,
}: {
  proof: Proof | null;
  fault: string;
  onFault: (fault: string) => void;
  shown: Shown;
  onShow: (shown: Shown) => void;
  onImport: (imported: { file: string; text: string }) => void;
}) {
  const stage = useMachine((machine) => machine?.stages.find((entry) => entry.name === "Proof"));
  const mark = stage?.mark ?? "open";
  const style = useStyle();
  const unit = useUnit();
  const own = shown === "own";
  const ofProof = own || shown === "written";
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
      <SequenceRow chosen={shown === "room"} onChoose={() => onShow("room")}>
        <Ruler size={18} className="text-ink-2" />
        <span className="text-left">Room</span>
        <small className="text-[13.5px] text-ink-3">of each quantity</small>
      </SequenceRow>
      {own ? (
        <ImportOwn onImport={onImport} />
      ) : (
        shown === "written" && <p className="px-4 py-2 pl-10 text-[13.5px] text-ink-2">{stage?.why}</p>
      )}
      {proof?.stale && ofProof && (
        <ul className="px-4 pb-2 pl-10 text-[13.5px] text-warn">
          {proof.changes.slice(0, 8).map((change) => (
            <li key={change.where}>
              {place(change.where)} was {said(change.before, change.unit, unit)}, is now{" "}
              {said(change.after, change.unit, unit)}
            </li>
          ))}
          <li>
            by {proof.changed_by}, {proof.changed_at && when(proof.changed_at)}
          </li>
        </ul>
      )}
      {proof && ofProof && (
        <p className="px-4 pl-10 text-[13.5px] text-ink-3">
          Run on revision {proof.revision} by {proof.author}, {when(proof.started)}.
        </p>
      )}
      {ofProof && <Faults proof={proof} fault={fault} onFault={onFault} />}
    </section>
  );
}

function Causes({ proof, onOpen }: { proof: Proof | null; onOpen: (of: Sequence, finding?: Finding) => void }) {
  const slug = useSlug();
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
            extra={`${cause.sequences.length} ${cause.sequences.length === 1 ? "sequence" : "sequences"}, first ${cause.sequences[0] ? sequenceName(cause.sequences[0]) : "none"}`}
            onGo={() => cause.sequences[0] && onOpen(cause.sequences[0], cause.finding)}
            link={slug && cause.sequences[0] ? addressOf(slug, cause.sequences[0], cause.finding) : null}
          />
        ))}
      </ul>
    </section>
  );
}
