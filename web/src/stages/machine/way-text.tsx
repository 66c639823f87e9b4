/** The text of the way to a stored position, from how many places it was run, and what was found; it can be run. */
import { Copy, Download, Play } from "lucide-react";
import type { MachineAnswer } from "../../api/client";
import { FindingItem } from "../../findings/findings";
import { useLive } from "../../live/live";
import { save } from "../../program/save";
import { ProgramText } from "../../program/text";
import { TextButton } from "../../program/text-button";
import { may } from "../../session/session";
import { useMachine, usePreview } from "../../work/document";
import { setFocus, useSelection } from "../../work/selection";

type Way = MachineAnswer["ways"][number];

export function WayText() {
  const ways = usePreview((answer) => answer?.machine?.ways) ?? [];
  const focus = useSelection((work) => work.focus);
  const refused = useLive((live) => live.refused);
  const index = Number(focus?.match(/^\/positions\/(\d+)\//)?.[1] ?? 0);
  const way = ways[index] ?? ways[0];
  if (!way)
    return (
      <p className="bg-sheet p-5 text-ink-2">There is no stored position yet; add one in the schedule on the left.</p>
    );
  return (
    <div className="flex h-full min-h-0 flex-col bg-sheet">
      <WayBar way={way} ways={ways} />
      {refused && <p className="px-4 text-stop">{refused}</p>}
      <div className="min-h-0 flex-1 overflow-auto">
        {way.why && <p className="says wrong">{way.why}</p>}
        <ProgramText text={way.text ?? ""} />
        <ul className="mt-3">
          {way.findings.map((finding) => (
            <FindingItem key={finding.message} finding={finding} extra={finding.line ? "" : undefined} />
          ))}
        </ul>
        {way.findings.length === 0 && way.text && (
          <p className="p-4 text-proven">✓ Nothing is met on the way, from anywhere in the travel.</p>
        )}
      </div>
    </div>
  );
}

function WayBar({ way, ways }: { way: Way; ways: Way[] }) {
  const practice = useMachine((machine) => machine?.agent === "");
  return (
    <div className="flex flex-wrap items-center gap-2 p-3">
      <select
        className="choice w-56! text-left!"
        aria-label="Stored position"
        value={way.name}
        onChange={(event) => setFocus(`/positions/${event.currentTarget.selectedIndex}/moves/0/Z`)}
      >
        {ways.map((entry) => (
          <option key={entry.name}>{entry.name}</option>
        ))}
      </select>
      <span className="min-w-44 flex-1 text-[14px] text-ink-2">
        run from {way.starts} places, the longest {way.seconds.toFixed(1)} s
      </span>
      <TextButton
        className="button plain"
        disabled={!way.text}
        onClick={() => void navigator.clipboard.writeText(way.text ?? "")}
      >
        <Copy size={15} /> Copy
      </TextButton>
      <TextButton className="button plain" disabled={!way.text} onClick={() => save(way.file, way.text ?? "")}>
        <Download size={15} /> Download
      </TextButton>
      {practice && may("technician") && (
        <TextButton
          className="button first"
          disabled={!way.text || way.findings.some((finding) => finding.severity === "stop")}
          onClick={() => void useLive.getState().send({ do: "run", text: way.text, from_tool: 0, to_tool: 0 })}
        >
          <Play size={15} /> Run it
        </TextButton>
      )}
    </div>
  );
}
