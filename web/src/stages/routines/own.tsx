/** A program of the technician's own, reviewed in place of the written one: run on the part of this routine, with all checks. */
import { ProgramValues } from "../../program/program-values";
import { useRoutine } from "../../touching/which-routine";
import { playImported } from "../../work/choosing";
import { useSelection } from "../../work/selection";

export function OwnProgram() {
  const { answer } = useRoutine();
  const imported = useSelection((work) => work.imported);
  if (!answer?.aims.length) return null;
  if (!imported) return null;
  return (
    <section className="border-b border-rule px-3.5 py-2.5" aria-label="Your own program">
      <b className="font-semibold">{imported.file}</b>
      <p className="text-[13.5px] text-ink-3">
        It is run in place of the written one, on the part as expected. What it works with, beside what the Setup says:
      </p>
      <ProgramValues program_values={answer.program_values} />
      <button type="button" className="link min-h-9" onClick={() => void playImported(null)}>
        back to the written one
      </button>
    </section>
  );
}
