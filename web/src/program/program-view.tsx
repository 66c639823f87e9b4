/** The text of a sequence, in one of the control profiles, with the seconds that each line takes; the line of the moment is
 * marked. */
import { ChevronsDownUp, ChevronsUpDown, Copy, Download, Play } from "lucide-react";
import { useMemo, useState } from "react";
import type { Played } from "../api/client";
import { useLive } from "../live/live";
import { may } from "../session/session";
import { showProfile } from "../work/choosing";
import { traceNow, useMachine, usePlayed } from "../work/document";
import { goTo, step, useLine, usePlayback } from "../work/playback";
import { useSelection } from "../work/selection";

import { foldsOf } from "./folds";
import { byLine } from "./marks";
import { save } from "./save";
import { secondsByLine } from "./seconds";
import { ProgramText } from "./text";
import { TextButton } from "./text-button";

type Text = Played["texts"][number] | undefined;

export function ProgramView() {
  const played = usePlayed();
  const chosen = played?.texts.find((text) => text.profile === played.shown);
  const [folded, setFolded] = useState<boolean | null>(null);
  if (!played) return <p className="p-4 text-ink-2">The program of what was chosen stands here.</p>;
  return (
    <div className="flex h-full min-h-0 flex-col bg-sheet">
      <Bar played={played} chosen={chosen} folded={folded === true} onFold={setFolded} />
      <Beside played={played} />
      <Lines played={played} chosen={chosen} folded={folded} />
    </div>
  );
}

/** The control profiles, and what can be done with the text. */
function Bar(props: { played: Played; chosen: Text; folded: boolean; onFold: (folded: boolean) => void }) {
  const { played, chosen, folded, onFold } = props;
  const folds = useMemo(() => foldsOf((chosen?.text ?? "").split("\n")).length > 0, [chosen?.text]);
  const practice = useMachine((machine) => machine?.agent === "");
  const [copied, setCopied] = useState(false);
  return (
    <div className="flex min-h-[42px] items-center gap-2 border-b border-rule-2 bg-panel px-2">
      <fieldset className="segmented min-w-0!" aria-label="Control profile">
        {played.texts.map((text) => (
          <button
            key={text.profile}
            type="button"
            className="min-w-0 truncate"
            title={text.profile}
            aria-pressed={text.profile === played.shown}
            onClick={() => void showProfile(text.profile)}
          >
            {text.profile[0]?.toUpperCase() + text.profile.slice(1)}
          </button>
        ))}
      </fieldset>
      <span className="flex-1 truncate text-right text-[13.5px] text-ink-2" title={chosen?.file}>
        {played.texts.length < 3 && chosen?.file}
      </span>
      {folds && (
        <button
          type="button"
          className="button plain min-h-8! px-2!"
          title={folded ? "Unfold all" : "Fold loops and branches"}
          aria-label={folded ? "Unfold all" : "Fold loops and branches"}
          onClick={() => onFold(!folded)}
        >
          {folded ? <ChevronsUpDown size={15} /> : <ChevronsDownUp size={15} />}
        </button>
      )}
      {practice && may("technician") && (
        <TextButton
          className="button plain min-h-8! px-2!"
          title="Run it at the practice machine"
          aria-label="Run it at the practice machine"
          disabled={!chosen?.text}
          onClick={() =>
            void useLive.getState().send({
              do: "run",
              text: chosen?.text,
              from_tool: played.from_tool,
              to_tool: played.to_tool,
              of: runOf(played),
            })
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
  const imported = useSelection((work) => work.imported);
  const ready = "ready" in played ? played.ready : null;
  return (
    <>
      {ready && !imported && (
        <p className="flex items-center justify-between border-b border-rule-2 px-3 text-[14px] text-ink-2">
          <span>The next tool is readied while the job cuts by a program of its own.</span>
          <TextButton className="link min-h-9" onClick={() => save(ready.file, ready.text)}>
            {ready.file}
          </TextButton>
        </p>
      )}
      {imported && (
        <p className="flex items-center justify-between border-b border-rule-2 bg-now-wash px-3 text-[14px]">
          <span>
            Played here: your program <b>{imported.file}</b>
          </span>
          <button type="button" className="link min-h-9" onClick={() => void showProfile(played.shown)}>
            back to the written one
          </button>
        </p>
      )}
    </>
  );
}

function Lines({ played, chosen, folded }: { played: Played; chosen: Text; folded: boolean | null }) {
  const line = useLine();
  const reported = useMemo(() => byLine(played.findings), [played.findings]);
  const seconds = useMemo(() => secondsByLine(played.trace), [played.trace]);
  const marks = useMemo(() => ({ reported, line, seconds }), [reported, line, seconds]);
  if (chosen?.why) return <p className="says wrong">{chosen.why}</p>;
  return (
    <div className="min-h-0 flex-1" data-program>
      <ProgramText
        text={chosen?.text ?? ""}
        marks={marks}
        folded={folded}
        onLine={seekLine}
        onChoose={(finding) => goTo(finding)}
      />
    </div>
  );
}

function seekLine(line: number) {
  const at = traceNow()?.blocks.findIndex((entry) => entry.line === line) ?? -1;
  if (at >= 0) step(at - usePlayback.getState().block);
}

/** The name that goes to the machine with a run: its results repeat it. */
const runOf = (played: Played) => ("run_of" in played ? played.run_of : null);
