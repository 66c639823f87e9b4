/** The routines of the proof, a row each. */
import type { ReactNode } from "react";
import type { Proof } from "../../api/client";
import { fixed } from "../../quantity/format";
import { keyOf, sequenceName } from "../../sequences";

type Result = Proof["sequences"][number];

export function RoutineRows({ proof, cell }: { proof: Proof | null; cell: (result: Result) => ReactNode }) {
  const routines = proof?.sequences.filter((entry) => entry.sequence.kind === "routine") ?? [];
  if (!routines.length) return null;
  return (
    <section aria-label="Proof of routines" className="mt-4">
      <h3 className="text-[14px] text-ink-2">Routines, the part as expected and not</h3>
      <table aria-label="Routines" className="mt-1 block">
        <tbody className="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-x-6 [--cell-h:40px] [--cell-w:44px]">
          {routines.map((result) => (
            <tr key={keyOf(result.sequence)} className="grid grid-cols-[44px_1fr_auto] items-center gap-2">
              {cell(result)}
              <th className="truncate text-left text-[14.5px] font-normal">{sequenceName(result.sequence)}</th>
              <td className="text-[13px] text-ink-3">{result.seconds > 0 && `${fixed(result.seconds, 1)} s`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
