/** Which measuring sequence is looked at, of which tools. */

import { useHandOver } from "../../common/hand-over";
import { fixed } from "../../quantity/format";
import { chooseMeasuring } from "../../work/choosing";
import { usePreview, useSetup, useTrace } from "../../work/document";
import type { MeasuringRequest } from "../../work/selection";

const SAYS: Record<string, [string, string]> = {
  measure: ["Measure", "Its length is worked out by the control, set, and in force at the end."],
  unknown: ["Measure, length unknown", "The setter is tried by hand first; the search is as long as the tools differ."],
  calibrate: ["Calibrate the plane", "With a reference tool, whose length is known: the plane height is worked out."],
  breakage: ["Breakage check", "Its length is compared with its record; nothing is set."],
  plate: [
    "Part zero by plate or block",
    "Z of a work offset becomes the part's top; the text says what the readout must show then.",
  ],
  renew: ["Use a changed length", "The control goes by a length that was changed only once the tool is called again."],
};

export function MeasuringChoice() {
  const measuring = usePreview((answer) => answer?.measuring);
  const seconds = useTrace()?.seconds;
  const keys = useHandOver();
  if (!measuring) return null;
  const { sequence, sequences, why } = measuring;
  return (
    <section className="border-b border-rule px-3.5 pt-2.5 pb-3" aria-label="Sequence">
      <select
        className="choice min-h-10! border border-ink! rounded-xs px-1 text-left! font-semibold"
        aria-label="Measuring sequence"
        value={sequence}
        onChange={(event) => {
          void chooseMeasuring({ sequence: event.currentTarget.value as MeasuringRequest["sequence"] });
          keys.chosen();
        }}
        onKeyDown={keys.onKeyDown}
      >
        {sequences.map((name) => (
          <option key={name} value={name}>
            {SAYS[name]?.[0] ?? name}
          </option>
        ))}
      </select>
      <Tools several={sequence === "measure"} chosen={measuring.tools} />
      <p className="mt-1.5 text-[13.5px] text-ink-3">
        {SAYS[sequence]?.[1]}
        {seconds !== undefined && seconds > 0 && ` It takes ${fixed(seconds, 1)} s.`}
      </p>
      {why && (
        <p role="alert" className="mt-1 text-[14.5px] text-stop">
          {why}
        </p>
      )}
    </section>
  );
}

/** The tools: one that is in the spindle, or several that are fetched in turn. */
function Tools({ several, chosen }: { several: boolean; chosen: number[] }) {
  const tools = useSetup((setup) => setup?.tools) ?? [];
  const stored = tools.filter((tool) => tool.pocket !== null).map((tool) => tool.number);
  const keys = useHandOver();
  return (
    <div className="mt-1.5 flex flex-wrap items-center gap-2">
      <select
        className="choice min-h-10! w-auto! border border-ink! rounded-xs px-1 text-left!"
        aria-label="Tool to measure"
        value={chosen.length === 1 ? chosen[0] : ""}
        onChange={(event) => {
          void chooseMeasuring({ tools: [Number(event.currentTarget.value)] });
          keys.chosen();
        }}
        onKeyDown={keys.onKeyDown}
      >
        {chosen.length > 1 && <option value="">{chosen.length} tools</option>}
        {tools.map((tool) => (
          <option key={tool.number} value={tool.number}>
            T{tool.number} {tool.name}
          </option>
        ))}
      </select>
      {several && stored.length > 1 && (
        <button type="button" className="link" onClick={() => void chooseMeasuring({ tools: stored })}>
          all {stored.length} of the magazine
        </button>
      )}
    </div>
  );
}
