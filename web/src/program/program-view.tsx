/** The text of a sequence, in one of the control profiles, with the seconds that each line takes; the block of the moment is
 * marked. */
import { Copy, Download, Play } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Played } from "../api/client";
import { useLive } from "../live/live";
import { fixed } from "../quantity/format";
import { may } from "../shell/session";
import { useWork } from "../work/store";
import { playedOf, traceOf } from "../work/work";
import { foldsOf, hiddenBy } from "./folds";
import { save } from "./save";
import { secondsByLine } from "./seconds";
import { TextButton } from "./text-button";

type Text = Played["texts"][number] | undefined;

export function ProgramView() {
  const played = useWork(playedOf);
  const chosen = played?.texts.find((text) => text.profile === played.shown);
  if (!played) return <p className="p-4 text-ink-2">The program of what was chosen stands here.</p>;
  return (
    <div className="flex h-full min-h-0 flex-col bg-sheet">
      <Bar played={played} chosen={chosen} />
      <Beside played={played} />
      <Lines played={played} chosen={chosen} />
    </div>
  );
}

/** The control profiles, and what can be done with the text. */
function Bar({ played, chosen }: { played: Played; chosen: Text }) {
  const practice = useWork((work) => work.machine?.agent === "");
  const [copied, setCopied] = useState(false);
  return (
    <div className="flex min-h-[42px] items-center gap-2 border-b border-rule-2 bg-panel px-2">
      <fieldset className="segmented" aria-label="Control profile">
        {played.texts.map((text) => (
          <button
            key={text.profile}
            type="button"
            aria-pressed={text.profile === played.shown}
            onClick={() => void useWork.getState().show(text.profile)}
          >
            {text.profile[0]?.toUpperCase() + text.profile.slice(1)}
          </button>
        ))}
      </fieldset>
      <span className="flex-1 truncate text-right text-[13.5px] text-ink-2" title={chosen?.file}>
        {played.texts.length < 3 && chosen?.file}
      </span>
      {practice && may("technician") && (
        <TextButton
          className="button plain min-h-8! px-2!"
          title="Run it at the practice machine"
          aria-label="Run it at the practice machine"
          disabled={!chosen?.text}
          onClick={() =>
            void useLive
              .getState()
              .send({ do: "run", text: chosen?.text, from_tool: played.from_tool, to_tool: played.to_tool })
          }
        >
          <Play size={15} />
        </TextButton>
      )}
      <TextButton
        className="button plain min-h-8! px-2!"
        title="Copy the text"
        aria-label="Copy the text"
        onClick={async () => {
          await navigator.clipboard.writeText(chosen?.text ?? "");
          setCopied(true);
          setTimeout(() => setCopied(false), 1500);
        }}
      >
        <Copy size={15} />
        {copied && "copied"}
      </TextButton>
      <TextButton
        className="button plain min-h-8! px-2!"
        title="Download the text"
        aria-label="Download the text"
        onClick={() => save(chosen?.file ?? "program.nc", chosen?.text ?? "")}
      >
        <Download size={15} />
      </TextButton>
    </div>
  );
}

/** What is played in place of the written text, and the text that belongs to it. */
function Beside({ played }: { played: Played }) {
  const brought = useWork((work) => work.brought);
  const ready = "ready" in played ? played.ready : null;
  return (
    <>
      {ready && !brought && (
        <p className="flex items-center justify-between border-b border-rule-2 px-3 text-[14px] text-ink-2">
          <span>The next tool is readied while the job cuts by a program of its own.</span>
          <TextButton className="link min-h-9" onClick={() => save(ready.file, ready.text)}>
            {ready.file}
          </TextButton>
        </p>
      )}
      {brought && (
        <p className="flex items-center justify-between border-b border-rule-2 bg-now-wash px-3 text-[14px]">
          <span>
            Played here: your program <b>{brought.file}</b>
          </span>
          <button type="button" className="link min-h-9" onClick={() => void useWork.getState().show(played.shown)}>
            back to the written one
          </button>
        </p>
      )}
    </>
  );
}

function Lines({ played, chosen }: { played: Played; chosen: Text }) {
  const now = useWork((work) => traceOf(work)?.blocks[work.block]?.line ?? 0);
  const lines = useMemo(() => chosen?.text?.replace(/\n$/, "").split("\n") ?? [], [chosen?.text]);
  const told = useMemo(() => new Map(played.findings.map((finding) => [finding.line, finding])), [played.findings]);
  const spent = useMemo(() => secondsByLine(played.trace), [played.trace]);
  const folds = useMemo(() => foldsOf(lines), [lines]);
  const [closed, setClosed] = useState<ReadonlySet<number>>(NOTHING);
  const hidden = useMemo(() => hiddenBy(folds, closed), [folds, closed]);
  const open = (of: number[]) => setClosed((before) => new Set([...before].filter((from) => !of.includes(from))));
  const around = folds.find(({ from, to }) => closed.has(from) && from < now && now <= to);
  const line = around ? around.from : now; // what is folded is marked at its head
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const row = box.current?.querySelector(`[data-line="${line}"]`);
    row?.scrollIntoView({ block: "nearest" });
  }, [line]);
  return (
    <>
      {folds.length > 0 && (
        <FoldAll
          some={closed.size > 0}
          onFold={() => setClosed(closed.size ? NOTHING : new Set(folds.map(({ from }) => from)))}
        />
      )}

      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be scrolled by keys too */}
      <section ref={box} className="min-h-0 flex-1 overflow-auto" data-program aria-label="Program text" tabIndex={0}>
        {chosen?.why && <p className="says wrong">{chosen.why}</p>}
        {lines.map((text, index) => {
          const number = index + 1;
          const finding = told.get(number);
          if (hidden.has(number)) return null;
          const fold = folds.find(({ from }) => from === number);
          const row = (
            <button
              // biome-ignore lint/suspicious/noArrayIndexKey: a line is known by its number
              key={index}
              type="button"
              data-line={number}
              className={`program-line ${number === line ? "now" : ""} ${finding ? "told" : ""}`}
              title={finding?.message}
              onClick={() => (finding ? useWork.getState().goTo(finding) : seekLine(number))}
              tabIndex={-1}
            >
              <s>{number}</s>
              <em title="Seconds that this line takes, all its turns together">{took(spent.get(number))}</em>
              <Written text={text} />
            </button>
          );
          if (!fold) return row;
          const isClosed = closed.has(number);
          return (
            <div key={number} className="relative">
              {row}
              <button
                type="button"
                className="fold"
                aria-expanded={!isClosed}
                aria-label={`Fold the ${fold.what} of lines ${fold.from} to ${fold.to}`}
                onClick={() => (isClosed ? open([number]) : setClosed(new Set([...closed, number])))}
              >
                {isClosed ? `▸ ${fold.to - fold.from} lines` : "▾"}
              </button>
            </div>
          );
        })}
      </section>
    </>
  );
}

const NOTHING: ReadonlySet<number> = new Set();

/** All loops and branches folded, or none. */
function FoldAll({ some, onFold }: { some: boolean; onFold: () => void }) {
  return (
    <p className="no-print border-b border-rule-2 text-right">
      <button type="button" className="link bg-sheet px-2 text-[13.5px]" onClick={onFold}>
        {some ? "unfold all" : "fold loops and branches"}
      </button>
    </p>
  );
}

function took(seconds: number | undefined): string {
  return seconds && seconds >= 0.05 ? fixed(seconds, 1) : "";
}

function seekLine(line: number) {
  const work = useWork.getState();
  const at = traceOf(work)?.blocks.findIndex((entry) => entry.line === line) ?? -1;
  if (at >= 0) work.step(at - work.block);
}

/** A line's words, and its remark beside them or, where there is no room, below: never cut off. */
function Written({ text }: { text: string }) {
  const remark = /\s*(\([^)]*\))\s*$/.exec(text);
  const words = remark ? text.slice(0, remark.index) : text;
  return (
    <span className="written">
      {words && <span className="words">{coloured(words)}</span>}
      {remark && <span className="remark">{remark[1]}</span>}
    </span>
  );
}

function coloured(text: string) {
  return text.split(/(\([^)]*\)|#\d+)/).map((part, index) => {
    const kind = part.startsWith("(") ? "remark" : part.startsWith("#") ? "parameter" : "";
    return kind ? (
      // biome-ignore lint/suspicious/noArrayIndexKey: the parts of a line do not move
      <span key={index} className={kind}>
        {part}
      </span>
    ) : (
      part
    );
  });
}
