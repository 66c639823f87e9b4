/** The sequences of the proof that have a name, a row each: routines, and measuring sequences beside the lengths. */
import type { ReactNode } from "react";
import type { Proof } from "../../api/client";
import { fixed } from "../../quantity/format";
import { keyOf, sequenceName } from "../../sequences";
import { USUAL } from "./naming";

type Result = Proof["sequences"][number];

export function NamedRows({ proof, cell }: { proof: Proof | null; cell: (result: Result) => ReactNode }) {
  const every = proof?.sequences ?? [];
  const measuring = every.filter(({ sequence: of }) => of.kind === "measuring" && of.name !== USUAL);
  const routines = every.filter(({ sequence: of }) => of.kind === "routine");
  return (
    <>
      <Rows title="At the setter, beside the lengths" name="Measuring sequences" results={measuring} cell={cell} />
      <Rows title="Routines, the part as expected and not" name="Routines" results={routines} cell={cell} />
    </>
  );
}

interface RowsProps {
  title: string;
  name: string;
  results: Result[];
  cell: (result: Result) => ReactNode;
}

function Rows({ title, name, results, cell }: RowsProps) {
  if (!results.length) return null;
  return (
    <section aria-label={`Proof of ${name.toLowerCase()}`} className="mt-4">
      <h3 className="text-[14px] text-ink-2">{title}</h3>
      <table aria-label={name} className="mt-1 block">
        <tbody className="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-x-6 [--cell-h:40px] [--cell-w:44px]">
          {results.map((result) => (
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
