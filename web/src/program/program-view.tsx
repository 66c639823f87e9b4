/** The text of the exchange, in one of the control profiles, with the seconds that each line takes; the block of the moment is
 * marked. */
import { Copy, Download, Play } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Trace } from "../api/client";
import { useLive } from "../live/live";
import { fixed } from "../quantity/format";
import { may } from "../shell/session";
import { useWork, type Work } from "../work/store";
import { save } from "./save";
import { TextButton } from "./text-button";

type Exchange = NonNullable<NonNullable<Work["answer"]>["exchange"]>;
type Text = Exchange["texts"][number] | undefined;

export function ProgramView() {
  const exchange = useWork((work) => work.answer?.exchange);
  const chosen = exchange?.texts.find((text) => text.profile === exchange.shown);
  if (!exchange) return <p className="p-4 text-ink-2">The program of the chosen exchange stands here.</p>;
  return (
    <div className="flex h-full min-h-0 flex-col bg-sheet">
      <Bar exchange={exchange} chosen={chosen} />
      <Beside exchange={exchange} />
      <Lines exchange={exchange} chosen={chosen} />
    </div>
  );
}

/** The control profiles, and what can be done with the text. */
function Bar({ exchange, chosen }: { exchange: Exchange; chosen: Text }) {
  const practice = useWork((work) => work.machine?.agent === "");
  const [copied, setCopied] = useState(false);
  return (
    <div className="flex min-h-[42px] items-center gap-2 border-b border-rule-2 bg-panel px-2">
      <fieldset className="segmented" aria-label="Control profile">
        {exchange.texts.map((text) => (
          <button
            key={text.profile}
            type="button"
            aria-pressed={text.profile === exchange.shown}
            onClick={() => void useWork.getState().show(text.profile)}
          >
            {text.profile[0]?.toUpperCase() + text.profile.slice(1)}
          </button>
        ))}
      </fieldset>
      <span className="flex-1 truncate text-right text-[13.5px] text-ink-2" title={chosen?.file}>
        {exchange.texts.length < 3 && chosen?.file}
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
              .send({ do: "run", text: chosen?.text, from_tool: exchange.from_tool, to_tool: exchange.to_tool })
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
        onClick={() => save(chosen?.file ?? "exchange.nc", chosen?.text ?? "")}
      >
        <Download size={15} />
      </TextButton>
    </div>
  );
}

/** What is played in place of the written text, and the text that belongs to it. */
function Beside({ exchange }: { exchange: Exchange }) {
  const brought = useWork((work) => work.brought);
  return (
    <>
      {exchange.ready && !brought && (
        <p className="flex items-center justify-between border-b border-rule-2 px-3 text-[14px] text-ink-2">
          <span>The next tool is readied while the job cuts by a program of its own.</span>
          <TextButton
            className="link min-h-9"
            onClick={() => exchange.ready && save(exchange.ready.file, exchange.ready.text)}
          >
            {exchange.ready.file}
          </TextButton>
        </p>
      )}
      {brought && (
        <p className="flex items-center justify-between border-b border-rule-2 bg-now-wash px-3 text-[14px]">
          <span>
            Played here: your program <b>{brought.file}</b>
          </span>
          <button type="button" className="link min-h-9" onClick={() => void useWork.getState().show(exchange.shown)}>
            back to the written one
          </button>
        </p>
      )}
    </>
  );
}

function Lines({ exchange, chosen }: { exchange: Exchange; chosen: Text }) {
  const line = useWork((work) => work.answer?.exchange?.trace?.blocks[work.block]?.line ?? 0);
  const lines = useMemo(() => chosen?.text?.replace(/\n$/, "").split("\n") ?? [], [chosen?.text]);
  const told = useMemo(() => new Map(exchange.findings.map((finding) => [finding.line, finding])), [exchange.findings]);
  const spent = useMemo(() => secondsByLine(exchange.trace), [exchange.trace]);
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const row = box.current?.querySelector(`[data-line="${line}"]`);
    row?.scrollIntoView({ block: "nearest" });
  }, [line]);
  return (
    <div ref={box} className="min-h-0 flex-1 overflow-auto" data-program>
      {chosen?.why && <p className="says wrong">{chosen.why}</p>}
      {lines.map((text, index) => {
        const number = index + 1;
        const finding = told.get(number);
        return (
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
            <span>{coloured(text)}</span>
          </button>
        );
      })}
    </div>
  );
}

/** Seconds by line, as often as it is run. */
function secondsByLine(trace: Trace | null | undefined): Map<number, number> {
  const found = new Map<number, number>();
  for (const block of trace?.blocks ?? [])
    found.set(block.line, (found.get(block.line) ?? 0) + block.end_seconds - block.start_seconds);
  return found;
}

function took(seconds: number | undefined): string {
  return seconds && seconds >= 0.05 ? fixed(seconds, 1) : "";
}

function seekLine(line: number) {
  const { answer, step, block } = useWork.getState();
  const at = answer?.exchange?.trace?.blocks.findIndex((entry) => entry.line === line) ?? -1;
  if (at >= 0) step(at - block);
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
