/** What a run passes closest: each leads to its moment, where the drawing shows the gap. */
import type { Passing } from "../api/client";
import { useUnit } from "../fields/rows";
import { fixed, shown, unitOf } from "../quantity/format";
import { seek, usePlayback } from "../work/playback";

/** Bodies that are listed. */
const MOST = 3;

export function Closest({ passed }: { passed: Passing[] }) {
  const unit = useUnit();
  const time = usePlayback((work) => work.time);
  if (!passed.length) return null;
  return (
    <section aria-label="Clearance">
      <h3 className="px-3.5 pt-3 pb-2 font-semibold">Clearance</h3>
      <ul>
        {passed.slice(0, MOST).map((entry) => (
          <li
            key={entry.body}
            className={`border-t border-rule-2 px-3.5 py-2 text-[14.5px] leading-snug ${isAt(entry, time) ? "bg-now-wash shadow-[inset_3px_0_var(--now)]" : ""}`}
          >
            <b className="font-semibold tabular-nums">
              {shown(entry.gap, "length", unit)} {unitOf("length", unit)}
            </b>{" "}
            {entry.sideways > entry.height ? "sideways" : "in height"}, {entry.mover} past {entry.body}
            <div className="mt-1">
              <button type="button" className="link" data-place onClick={() => seek(entry.at_seconds)}>
                {fixed(entry.at_seconds, 1)} s · line {entry.line}
              </button>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Seconds; so near to its moment a passing is drawn. */
const NEAR = 0.05;

export const isAt = (passing: Passing, time: number) => time > 0 && Math.abs(passing.at_seconds - time) < NEAR;
