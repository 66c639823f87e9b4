/** Findings: what, with figures; the fix as one action; the moment and line it leads to. */
import type { Finding } from "../api/client";
import { SeverityMark } from "../common/marks";
import { fixed } from "../quantity/format";
import { may } from "../session/session";
import { edit } from "../work/editing";
import { goTo, usePlayback } from "../work/playback";
import { setFocus } from "../work/selection";
import { CopyLink } from "./copy-link";

export function FindingItem({
  finding,
  chosen,
  onGo,
  extra,
  link,
}: {
  finding: Finding;
  chosen?: boolean;
  onGo?: () => void;
  extra?: string;
  /** the address that leads to it, if not the one that one is at; null: none does */
  link?: string | null;
}) {
  const { fix, quantity } = finding;
  const place = [
    finding.at_seconds !== null ? `${fixed(finding.at_seconds, 1)} s` : "",
    finding.line !== null ? `line ${finding.line}` : "",
    extra ?? "",
  ].filter(Boolean);
  return (
    <li
      className={`grid grid-cols-[22px_1fr] gap-2 border-t border-rule-2 px-3.5 py-2 text-[14.5px] leading-snug ${chosen ? "bg-now-wash shadow-[inset_3px_0_var(--now)]" : ""}`}
      data-check={finding.check}
      data-severity={finding.severity}
    >
      <SeverityMark severity={finding.severity} />
      <div>
        <p>
          <span className="sr-only">{finding.severity}: </span>
          {finding.message}
        </p>
        <div className="mt-1 flex flex-wrap gap-x-3.5 text-dim">
          {fix && may("technician") && (
            <button type="button" className="link" onClick={() => void edit(fix.where, fix.value)}>
              {fix.says}
            </button>
          )}
          {onGo && place.length > 0 ? (
            <button type="button" className="link" data-place onClick={onGo}>
              {place.join(" · ")}
            </button>
          ) : (
            <span>{place.join(" · ")}</span>
          )}
          {quantity && !fix && (
            <button type="button" className="link" onClick={() => setFocus(quantity)}>
              show the value
            </button>
          )}
          {link !== null && <CopyLink finding={finding} to={link} />}
        </div>
      </div>
    </li>
  );
}

export function FindingsPanel({ findings }: { findings: Finding[] }) {
  const chosen = usePlayback((work) => work.chosen);
  return (
    <section aria-label="Findings">
      <h3 className="flex justify-between px-3.5 pt-3 pb-2 font-semibold">
        Findings <span className="font-normal text-ink-3">{findings.length}</span>
      </h3>
      {findings.length === 0 && <p className="px-3.5 text-ink-2">No findings.</p>}
      <ul>
        {findings.map((finding) => (
          <FindingItem
            key={finding.check + finding.message}
            finding={finding}
            chosen={chosen?.message === finding.message}
            onGo={finding.line !== null ? () => goTo(finding) : undefined}
          />
        ))}
      </ul>
    </section>
  );
}
