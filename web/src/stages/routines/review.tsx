/** The review of a program of the technician's own: its text with what the checks say where it stands, changed and run again, beside
 * the one that would be written, or as it was brought. */
import { lazy, Suspense, useMemo, useState } from "react";
import type { Finding } from "../../api/client";
import { Bring } from "../../program/bring";
import { byLine } from "../../program/marks";
import { save } from "../../program/save";
import { secondsByLine } from "../../program/seconds";
import { may } from "../../shell/session";
import { traceOf, useWork } from "../../work/store";
import { Mends } from "./mends";
import { useRoutine } from "./which";

const Editor = lazy(() => import("../../program/editor"));

type Beside = "" | "written" | "brought";

export function Review() {
  const brought = useWork((work) => work.brought);
  const { answer } = useRoutine();
  const { bring } = useWork.getState();
  if (!brought)
    return (
      <div className="bg-sheet p-6">
        <h2 className="text-[17px] font-semibold">Review a program of your own</h2>
        <p className="max-w-[64ch] text-[14.5px] text-ink-2">
          A macro or routine that does what {answer?.routine || "a routine"} does: it is run on the part as expected and
          reviewed with all checks. What is found stands in its text.
        </p>
        <Bring label="Open a file" paste onBring={(own) => void bring(own)} />
      </div>
    );
  return <Opened key={brought.file} file={brought.file} text={brought.text} />;
}

function Opened({ file, text }: { file: string; text: string }) {
  const { answer } = useRoutine();
  const [first] = useState(text);
  const [typed, setTyped] = useState(text);
  const [taken, setTaken] = useState(0); // an editor is made anew with each text that is not typed in it
  const [beside, setBeside] = useState<Beside>("");
  const line = useWork((work) => traceOf(work)?.blocks[work.block]?.line ?? 0);
  const seconds = useSeconds();
  const findings = answer?.findings;
  const told = useMemo(() => byLine(findings ?? []), [findings]);
  // What was said holds for the text that was run: of one that was changed since, nothing is said until it is run.
  const current = typed === text;
  const marks = useMemo(
    () => (current ? { told, line, seconds } : { told: new Map<number, Finding[]>(), line: 0, seconds: new Map() }),
    [current, told, line, seconds],
  );
  const { bring, goTo } = useWork.getState();
  const other = beside === "written" ? (answer?.written ?? "") : beside === "brought" ? first : null;
  return (
    <div className="flex h-full min-h-0 flex-col bg-sheet" data-review={findings?.length ?? 0}>
      <div className="flex flex-wrap items-center gap-2 border-b border-rule-2 px-3 py-1">
        <b className="font-semibold">{file}</b>
        <button
          type="button"
          className="button first min-h-9!"
          disabled={current || !may("technician")}
          onClick={() => void bring({ file, text: typed })}
        >
          Run it again
        </button>
        <label className="flex items-center gap-1 text-[14px]">
          beside it
          <select
            className="choice w-auto! border border-rule px-1 text-left!"
            value={beside}
            onChange={(event) => setBeside(event.currentTarget.value as Beside)}
          >
            <option value="">nothing</option>
            <option value="written">as it would be written here</option>
            <option value="brought">as it was brought</option>
          </select>
        </label>
        <button type="button" className="link" onClick={() => save(file, typed)}>
          Download
        </button>
        <button type="button" className="link" onClick={() => void bring(null)}>
          Close it
        </button>
        <span className="flex-1 text-right text-[14px] text-ink-2" role="status">
          {current ? said(findings?.length ?? 0) : "Changed: run it again."}
        </span>
      </div>
      {told.has(0) && current && (
        <ul className="border-b border-rule-2 px-3 py-1 text-[14px]">
          {told.get(0)?.map((finding) => (
            <li key={finding.message}>{finding.message}</li>
          ))}
        </ul>
      )}
      {current && (
        <Mends
          routine={answer?.routine ?? ""}
          text={text}
          findings={findings ?? []}
          onTake={(mended) => {
            setTyped(mended);
            setTaken(taken + 1);
            void bring({ file, text: mended });
          }}
        />
      )}
      <div className="min-h-0 flex-1">
        <Suspense fallback={<p className="p-4 text-ink-2">Opening the text.</p>}>
          <Editor
            key={taken}
            text={typed}
            beside={other}
            marks={marks}
            label="Your program"
            readOnly={!may("technician")}
            onChange={setTyped}
            onChoose={goTo}
          />
        </Suspense>
      </div>
    </div>
  );
}

const said = (count: number) => (count ? `${count} finding${count === 1 ? "" : "s"}.` : "No findings.");

/** The seconds that each line takes. */
function useSeconds(): Map<number, number> {
  const trace = useWork(traceOf);
  return useMemo(() => secondsByLine(trace), [trace]);
}
