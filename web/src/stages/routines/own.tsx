/** A program of the technician's own, reviewed in place of the written one: run on the part of this routine, with all checks. */
import { Believes } from "../../program/believes";
import { useWork } from "../../work/store";
import { useRoutine } from "./which";

export function OwnProgram() {
  const { answer } = useRoutine();
  const brought = useWork((work) => work.brought);
  const { bring } = useWork.getState();
  if (!answer?.aims.length) return null;
  if (!brought) return null;
  return (
    <section className="border-b border-rule px-3.5 py-2.5" aria-label="Your own program">
      <b className="font-semibold">{brought.file}</b>
      <p className="text-[13.5px] text-ink-3">
        It is run in place of the written one, on the part as expected. What it works with, beside what the Setup says:
      </p>
      <Believes beliefs={answer.beliefs} />
      <button type="button" className="link min-h-9" onClick={() => void bring(null)}>
        back to the written one
      </button>
    </section>
  );
}
