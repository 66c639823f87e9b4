/** The foot of the Proof stage: how far it is, stop, run. */
import type { Proof } from "../../api/client";
import { viewOf } from "../../changers";
import { Progress } from "../../common/progress";
import { may } from "../../session/session";
import { useSaving, useSetup } from "../../work/document";

function ordinal(number: number): string {
  return ["first", "second", "third"][number - 1] ?? `${number}th`;
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

export function Foot({
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
  const saving = useSaving();
  const can = useSetup(
    (setup) =>
      setup != null &&
      ((setup.setters.length > 0 && setup.tools.length > 0) ||
        setup.routines.length > 0 ||
        (setup.changer != null && setup.tools.some((tool) => tool.pocket !== null || viewOf(setup?.changer)?.anyTool))),
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
