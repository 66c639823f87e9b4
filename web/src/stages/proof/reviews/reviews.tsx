/** Programs of the technician's own, of up to 100 MB and for any purpose, reviewed with all checks on this machine. */

import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import type { Finding, Review, ReviewSummary } from "../../../api/client";
import { Progress } from "../../../common/progress";
import { FindingItem } from "../../../findings/findings";
import { ImportProgram } from "../../../program/import-program";
import { useProfiles } from "../../../program/profiles";
import { ProgramValues } from "../../../program/program-values";
import { Reviewed } from "../../../program/reviewed";
import { duration, fixed } from "../../../quantity/format";
import { when } from "../../../quantity/when";
import { playImported } from "../../../work/choosing";
import { useSetup, useSlug } from "../../../work/document";
import { useVocabulary } from "../../../work/vocabulary";
import type { ReviewRequest } from "./sending";
import type { useReview } from "./use-review";

/** The line that is to be seen. */
type At = { line: number } | null;

type Open = ReturnType<typeof useReview>;
type Purpose = ReviewSummary["purpose"];

const MOST = 100;
/** MB of a program */

export function Reviews({ of, at, onAt }: { of: Open; at: At; onAt: (at: At) => void }) {
  const { review, sent } = of;
  if (sent !== null) return <Going what="Sending the text" share={sent} onCancel={of.cancel} />;
  if (review?.state === "running")
    return <Going what={`${review.file}: ${review.doing.toLowerCase()}`} share={review.share} onCancel={of.cancel} />;
  if (review?.state === "done" && !(of.text === null && of.trouble))
    return of.text === null ? (
      <p className="h-full bg-sheet p-6 text-ink-2">Fetching the text.</p>
    ) : (
      <Done of={of} review={review} text={of.text} at={at} onAt={onAt} />
    );
  return <Begin of={of} />;
}

function Going({ what, share, onCancel }: { what: string; share: number; onCancel: () => void }) {
  return (
    <div className="h-full bg-sheet p-6">
      <p role="status">{what}.</p>
      <Progress of="review" share={share} className="my-3 max-w-[60ch]" />
      <button type="button" className="button" onClick={onCancel}>
        Cancel
      </button>
    </div>
  );
}

function Begin({ of }: { of: Open }) {
  const [purpose, setPurpose] = useState<Purpose>("job");
  const [profile, setProfile] = useState("");
  const purposes = useVocabulary((words) => words.purposes);
  const profiles = useProfiles();
  const { review, trouble, open, look } = of;
  return (
    <div className="h-full overflow-auto bg-sheet p-6">
      <h2 className="text-[17px] font-semibold">Review a program</h2>
      <p className="max-w-[64ch] text-[14.5px] text-ink-2">
        A program of up to 100 MB is run on this machine as it is now, and reviewed with all checks. What is found
        stands in its text.
      </p>
      {review?.state === "failed" && (
        <p role="alert" className="mt-2 text-stop">
          {review.file}: {review.error}
        </p>
      )}
      {review?.state === "cancelled" && <p className="mt-2">{review.file}: cancelled.</p>}
      {trouble && (
        <p role="alert" className="mt-2 text-stop">
          {trouble}
        </p>
      )}
      <div className="mt-4 flex flex-wrap gap-4">
        <label className="grid gap-1 text-[14px]">
          It is
          <select
            className="choice min-h-10 border border-rule px-2 text-left!"
            value={purpose}
            onChange={(event) => setPurpose(event.currentTarget.value as Purpose)}
          >
            {Object.entries(purposes)
              .reverse()
              .map(([name, words]) => (
                <option key={name} value={name}>
                  {words}
                </option>
              ))}
          </select>
        </label>
        <label className="grid gap-1 text-[14px]">
          Control profile
          <select
            className="choice min-h-10 border border-rule px-2 text-left!"
            value={profile}
            onChange={(event) => setProfile(event.currentTarget.value)}
          >
            <option value="">the machine's</option>
            {profiles.map(({ name }) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
      </div>
      <ImportProgram
        label="Open a file"
        paste
        most={MOST}
        onImport={(own) => void open({ ...own, purpose, profile })}
      />
      <Earlier listed={of.listed} onLook={look} />
    </div>
  );
}

const OUTCOME: Record<ReviewSummary["state"], (review: ReviewSummary) => string> = {
  sending: () => "not sent to its end",
  running: ({ doing }) => doing.toLowerCase(),
  done: ({ count }) => (count ? `${count} finding${count === 1 ? "" : "s"}` : "no findings"),
  cancelled: () => "cancelled",
  failed: ({ error }) => error,
};

function Earlier({ listed, onLook }: { listed: ReviewSummary[]; onLook: (id: number) => void }) {
  const purposes = useVocabulary((words) => words.purposes);
  if (!listed.length) return null;
  return (
    <table className="mt-6 w-full max-w-[980px] text-[14.5px]" aria-label="Reviewed programs">
      <thead>
        <tr className="text-left text-[13px] text-ink-3">
          <th className="font-normal">Program</th>
          <th className="font-normal">What it is</th>
          <th className="text-right font-normal">Size, kB</th>
          <th className="text-right font-normal">Takes</th>
          <th className="pl-4 font-normal">Outcome</th>
          <th className="pl-4 font-normal">Setup</th>
          <th className="pl-4 font-normal">By</th>
        </tr>
      </thead>
      <tbody>
        {listed.map((entry) => (
          <tr key={entry.id} className="border-t border-rule-2">
            <td>
              <button type="button" className="link min-h-10" onClick={() => onLook(entry.id)}>
                {entry.file}
              </button>
            </td>
            <td>{purposes[entry.purpose]}</td>
            <td className="text-right">{fixed(entry.size / 1000, 1)}</td>
            <td className="text-right">{entry.seconds === null ? "" : duration(entry.seconds)}</td>
            <td className="pl-4">{OUTCOME[entry.state](entry)}</td>
            <td className="pl-4">revision {entry.revision}</td>
            <td className="pl-4">
              {entry.author}, {when(entry.started)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Done({
  of,
  review,
  text,
  at,
  onAt,
}: {
  of: Open;
  review: Review;
  text: string;
  at: At;
  onAt: (at: At) => void;
}) {
  const seconds = useMemo(() => new Map(review.by_line.map(([line = 0, took = 0]) => [line, took] as const)), [review]);
  const { file, purpose, profile } = review;
  const again = (changed: string) =>
    void of.open({ file, purpose, profile, text: changed } satisfies ReviewRequest, true);
  return (
    <Reviewed
      file={file}
      text={text}
      first={of.first}
      findings={review.findings}
      fixes={review.fixes}
      line={at?.line ?? 0}
      at={at}
      seconds={seconds}
      written={null}
      onRun={again}
      onClose={() => of.look(null)}
      onChoose={(finding) => onAt({ line: finding.line ?? 0 })}
    >
      {review.seconds !== null && <span className="text-[14px] text-ink-2">takes {duration(review.seconds)}</span>}
      {text.length <= MOST_PLAYED && <Play purpose={purpose} file={file} text={text} />}
    </Reviewed>
  );
}

const MOST_PLAYED = 1_000_000;
/** characters of a program that is played */

/** Where a program of a purpose can be played on the drawing. */
const PLAYED: Record<Purpose, readonly [string, string]> = {
  job: ["changer", "Play it on the drawing"],
  return: ["changer", "Play it on the drawing"],
  exchange: ["changer", "Play it on the changer"],
  measure: ["setter", "Play it at the setter"],
  probe: ["routines", "Play it on a routine's part"],
};

function Play({ purpose, file, text }: { purpose: Purpose; file: string; text: string }) {
  const slug = useSlug();
  const navigate = useNavigate();
  const has = useSetup((setup) => setup?.changer != null);
  const [where, says] = PLAYED[purpose];
  if (where === "changer" && !has) return null;
  return (
    <button
      type="button"
      className="link"
      onClick={async () => {
        navigate(`/machines/${slug}/${where}`);
        await playImported({ file, text, purpose });
      }}
    >
      {says}
    </button>
  );
}

/** Result, beside the text; a line is one press away. */
export function ReviewFindings({ review, at, onAt }: { review: Review | undefined; at: At; onAt: (at: At) => void }) {
  if (review?.state !== "done") return null;
  return (
    <section aria-label="Findings">
      {review.program_values.length > 0 && (
        <div className="border-b border-rule px-3.5 py-2.5">
          <h3 className="font-semibold">What the program works with</h3>
          <ProgramValues program_values={review.program_values} />
        </div>
      )}
      <h3 className="flex justify-between px-3.5 pt-3 pb-2 font-semibold">
        Findings <span className="font-normal text-ink-3">{review.count}</span>
      </h3>
      {review.count === 0 && <p className="px-3.5 text-ink-2">No findings.</p>}
      {review.count > review.findings.length && (
        <p className="px-3.5 text-ink-2">The worst {review.findings.length} are listed.</p>
      )}
      <ul>
        {review.findings.map((finding: Finding, index) => (
          <FindingItem
            // biome-ignore lint/suspicious/noArrayIndexKey: the list of a review never changes
            key={index}
            finding={finding}
            link={null}
            chosen={at !== null && finding.line === at.line}
            onGo={finding.line !== null ? () => onAt({ line: finding.line ?? 0 }) : undefined}
          />
        ))}
      </ul>
    </section>
  );
}
