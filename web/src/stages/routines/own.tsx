/** A program of the technician's own, reviewed in place of the written one: run on the part of this routine, with all checks. */
import type { Probing } from "../../api/client";
import { shown, unitOf } from "../../quantity/format";
import { useUnit } from "../../quantity/rows";
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

/** What it works with, beside what the Setup says. */
function Believes({ beliefs }: { beliefs: Probing["beliefs"] }) {
  const unit = useUnit();
  if (!beliefs.length) return null;
  const said = (value: number | string | null, of: string) => {
    if (typeof value !== "number") return value ?? "";
    return `${value < 0 ? "−" : ""}${shown(Math.abs(value), of === "mm/min" ? "feed" : "length", unit)}`;
  };
  return (
    <table className="mt-1 w-full text-[14px]" aria-label="What the program believes">
      <thead>
        <tr className="text-[13px] text-ink-3">
          <th />
          <th className="text-right font-normal">program</th>
          <th className="text-right font-normal">Setup</th>
        </tr>
      </thead>
      <tbody>
        {beliefs.map((entry) => (
          <tr
            key={entry.what}
            className={`border-t border-rule-2 ${entry.agrees ? "" : "text-stop"}`}
            data-agrees={entry.agrees}
          >
            <td className="py-0.5">
              {entry.what}{" "}
              <small className="text-ink-3">
                {entry.unit && unitOf(entry.unit === "mm/min" ? "feed" : "length", unit)}
              </small>
            </td>
            <td className="text-right">{said(entry.program, entry.unit)}</td>
            <td className="text-right">{said(entry.setup, entry.unit)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
