/** What goes with a changer's pockets: those that something else stands in, and the signals of its style. */
import { Link } from "react-router";
import type { Reserved } from "../../api/client";
import { QuantityRow } from "../../quantity/rows";
import { may } from "../../shell/session";
import { useWork } from "../../work/store";
import { heightsOf, pocketCount, reservedOf } from "./of-changer";

/** What an exchange switches and asks, by role: which signal it is, or that there is none and it dwells. */
export function StyleSignals() {
  const signals = useWork((work) => work.answer?.uses) ?? [];
  const slug = useWork((work) => work.slug);
  if (!signals.length) return null;
  return (
    <>
      <div className="group-title">
        Signals <small>by role</small>
      </div>
      <ul className="px-4 text-[14.5px]" aria-label="Signals by role">
        {signals.map((signal) => (
          <li
            key={`${signal.kind} ${signal.role}`}
            className="grid min-h-7 grid-cols-[1fr_auto] items-center border-b border-rule-2"
          >
            <span className="text-ink-2">{signal.role}</span>
            {signal.name ? (
              <span>
                {signal.name}
                {signal.seconds ? `, ${signal.seconds} s` : ""}
              </span>
            ) : (
              <span className="text-ink-3">{signal.kind === "input" ? "none" : "none, usual words"}</span>
            )}
          </li>
        ))}
      </ul>
      <Link className="link mx-4" to={`/machines/${slug}/signals`}>
        To the signals
      </Link>
    </>
  );
}

export function ReservedPockets() {
  const reserved = useWork((work) => reservedOf(work.document?.changer));
  const tools = useWork((work) => work.document?.tools) ?? [];
  const count = useWork((work) => pocketCount(work.document?.changer));
  const top = useWork((work) => heightsOf(work.document?.changer)?.stored_top_z ?? 0);
  const { edit } = useWork.getState();
  const taken = new Set([...reserved.map((entry) => entry.pocket), ...tools.map((tool) => tool.pocket)]);
  const free = Array.from({ length: count }, (_, index) => index + 1).filter((pocket) => !taken.has(pocket));
  return (
    <>
      <div className="group-title">
        Reserved pockets <small>{reserved.length || "none"}</small>
      </div>
      {reserved.map((entry, index) => (
        <div key={entry.pocket}>
          <QuantityRow label={`${entry.what}: pocket`} pointer={`/changer/reserved/${index}/pocket`} kind="count" />
          <QuantityRow
            label={`${entry.what}: diameter`}
            pointer={`/changer/reserved/${index}/diameter`}
            kind="length"
          />
          <QuantityRow
            label={`${entry.what}: top, machine Z`}
            pointer={`/changer/reserved/${index}/top_z`}
            kind="length"
          />
          {may("technician") && (
            <button
              type="button"
              className="link mx-4"
              onClick={() =>
                void edit("/changer/reserved", (now: Reserved[]) =>
                  now.filter((other) => other.pocket !== entry.pocket),
                )
              }
            >
              Take the {entry.what} out
            </button>
          )}
        </div>
      ))}
      {may("technician") && free.length > 0 && (
        <button
          type="button"
          className="link mx-4 my-1"
          onClick={() =>
            void edit("/changer/reserved", (now: Reserved[]) => [
              ...now,
              { pocket: free.at(-1), what: "setter", diameter: 30, top_z: top },
            ])
          }
        >
          Reserve a pocket for a setter
        </button>
      )}
    </>
  );
}
