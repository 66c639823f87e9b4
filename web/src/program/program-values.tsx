import type { Probing } from "../api/client";
import { useUnit } from "../fields/rows";
import { shown, unitOf } from "../quantity/format";

/** What a program works with, beside what the Setup says. */
export function ProgramValues({ program_values }: { program_values: Probing["program_values"] }) {
  const unit = useUnit();
  if (!program_values.length) return null;
  const said = (value: number | string | null, of: string) => {
    if (typeof value !== "number") return value ?? "";
    return `${value < 0 ? "−" : ""}${shown(Math.abs(value), of === "mm/min" ? "feed" : "length", unit)}`;
  };
  return (
    <table className="mt-1 w-full text-[14px]" aria-label="Values that the program uses">
      <thead>
        <tr className="text-[13px] text-ink-3">
          <th />
          <th className="text-right font-normal">program</th>
          <th className="text-right font-normal">Setup</th>
        </tr>
      </thead>
      <tbody>
        {program_values.map((entry) => (
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
