/** On from the block that is looked at: to the next touch, or to a line of the text. */
import { useId, useState } from "react";
import type { Trace } from "../api/client";
import { play, seek, step, usePlayback } from "../work/playback";

/** The end of the next touching move after a moment; null: there is none. */
export function nextTouch(trace: Trace, time: number): number | null {
  return trace.segments.find((part) => part.kind === "touch" && part.end_seconds > time + 1e-6)?.end_seconds ?? null;
}

/** The next block of a line after this one, by its place; the first one of it where there is none after. Many blocks take no time:
 * a moment does not tell which one is meant. */
export function atLine(trace: Trace, block: number, line: number): number | null {
  const after = trace.blocks.findIndex((entry, index) => index > block && entry.line === line);
  const found = after >= 0 ? after : trace.blocks.findIndex((entry) => entry.line === line);
  return found >= 0 ? found : null;
}

export function RunOn({ trace }: { trace: Trace }) {
  const id = useId();
  const time = usePlayback((work) => work.time);
  const block = usePlayback((work) => work.block);
  const [line, setLine] = useState("");
  const [says, setSays] = useState("");
  const touch = nextTouch(trace, time);
  return (
    <form
      className="mt-2 flex flex-wrap items-center gap-1.5 border-t border-rule-2 px-3.5 pt-2 text-[14px]"
      onSubmit={(event) => {
        event.preventDefault();
        const to = atLine(trace, block, Number(line));
        setSays(to === null ? `Line ${line} is not run.` : "");
        play(false);
        if (to !== null) step(to - block);
      }}
    >
      <button
        type="button"
        className="button plain min-h-9! px-2!"
        disabled={touch === null}
        onClick={() => seek(touch ?? time)}
      >
        Next touch
      </button>
      <label htmlFor={id}>line</label>
      <input
        id={id}
        inputMode="numeric"
        className="min-h-9 w-12 border border-rule px-1 text-right"
        value={line}
        onChange={(event) => setLine(event.currentTarget.value.replace(/\D/g, ""))}
      />
      <button type="submit" className="button plain min-h-9! px-2!" disabled={!line}>
        Run
      </button>
      {says && <span role="status">{says}</span>}
    </form>
  );
}
