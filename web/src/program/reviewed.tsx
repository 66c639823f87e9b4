/** A program that was reviewed: its text with what the checks say where it stands, changed and run again, beside the one that would be
 * written, or as it was imported. */
import { lazy, type ReactNode, Suspense, useMemo, useState } from "react";
import type { Finding, TextFix } from "../api/client";
import { may } from "../session/session";
import { byLine, NO_MARKS } from "./marks";
import { save } from "./save";
import { TextFixes } from "./text-fixes";

const Editor = lazy(() => import("./editor"));

const MOST_CHANGED = 5_000_000;
/** characters of a text that can be changed here; a longer one is read */

interface Props {
  file: string;
  text: string;
  /** what it was before it was first changed here */
  first: string;
  findings: Finding[];
  fixes: TextFix[];
  /** the line that is run at this moment, and the seconds of each */
  line: number;
  seconds: Map<number, number>;
  /** the text that would be written for the same purpose, null: there is none */
  written: string | null;
  onRun: (text: string) => void;
  onClose: () => void;
  onChoose: (finding: Finding) => void;
  /** the line that is to be seen, null: the first that something is said of */
  at?: { line: number } | null;
  children?: ReactNode;
}

type Beside = "" | "written" | "imported";

export function Reviewed(props: Props) {
  const { text, first, findings, fixes, line, seconds, written, onRun, onChoose } = props;
  const [typed, setTyped] = useState(text);
  const [run, setRun] = useState(text);
  const [taken, setTaken] = useState(0); // an editor is made anew with each text that is not typed in it
  const [beside, setBeside] = useState<Beside>("");
  const [find, setFind] = useState(0);
  if (run !== text) {
    setRun(text);
    if (typed !== text) {
      setTyped(text);
      setTaken(taken + 1);
    }
  }
  const reported = useMemo(() => byLine(findings), [findings]);
  // What was said holds for the text that was run: of one that was changed since, nothing is said until it is run.
  const current = typed === text;
  const marks = useMemo(() => (current ? { reported, line, seconds } : NO_MARKS), [current, reported, line, seconds]);
  const other = beside === "written" ? (written ?? "") : beside === "imported" ? first : null;
  const fixed = !may("technician") || text.length > MOST_CHANGED;
  return (
    <div className="flex h-full min-h-0 flex-col bg-sheet" data-review={findings.length}>
      <Bar
        {...props}
        changed={!current}
        fixed={fixed}
        typed={typed}
        beside={beside}
        onBeside={setBeside}
        onFind={() => setFind(find + 1)}
      />
      {reported.has(0) && current && (
        <ul className="border-b border-rule-2 px-3 py-1 text-[14px]">
          {reported.get(0)?.map((finding) => (
            <li key={finding.message}>{finding.message}</li>
          ))}
        </ul>
      )}
      {current && <TextFixes fixes={fixes} text={text} onTake={onRun} />}
      <div className="min-h-0 flex-1">
        <Suspense fallback={<p className="p-4 text-ink-2">Opening the text.</p>}>
          <Editor
            key={taken}
            text={typed}
            beside={other}
            marks={marks}
            label="Your program"
            readOnly={fixed}
            find={find}
            at={props.at ?? null}
            onChange={setTyped}
            onChoose={onChoose}
          />
        </Suspense>
      </div>
    </div>
  );
}

const said = (count: number) => (count ? `${count} finding${count === 1 ? "" : "s"}.` : "No findings.");

interface BarProps extends Props {
  typed: string;
  changed: boolean;
  fixed: boolean;
  beside: Beside;
  onBeside: (beside: Beside) => void;
  onFind: () => void;
}

function Bar(props: BarProps) {
  const { file, findings, written, typed, changed, fixed, beside, onRun, onBeside, onFind, onClose, children } = props;
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-rule-2 px-3 py-1">
      <b className="font-semibold">{file}</b>
      {!fixed && (
        <button
          type="button"
          className="button first min-h-9!"
          disabled={!changed || !may("technician")}
          onClick={() => onRun(typed)}
        >
          Run it again
        </button>
      )}
      {!fixed && (
        <label className="flex items-center gap-1 text-[14px]">
          beside it
          <select
            className="choice w-auto! border border-rule px-1 text-left!"
            value={beside}
            onChange={(event) => onBeside(event.currentTarget.value as Beside)}
          >
            <option value="">nothing</option>
            {written !== null && <option value="written">as it would be written here</option>}
            <option value="imported">as it was imported</option>
          </select>
        </label>
      )}
      <button type="button" className="button plain min-h-9!" onClick={onFind}>
        Find
      </button>
      <button type="button" className="link" onClick={() => save(file, typed)}>
        Download
      </button>
      <button type="button" className="link" onClick={onClose}>
        Close it
      </button>
      {children}
      <span className="flex-1 text-right text-[14px] text-ink-2" role="status">
        {changed ? "Changed: run it again." : said(findings.length)}
      </span>
    </div>
  );
}
