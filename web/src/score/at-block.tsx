/** How everything stands at the block of the line of time. */

import { useUnit } from "../fields/rows";
import { fixed, shown } from "../quantity/format";
import { heldAt, parametersAt, placeAt, speedAt } from "../trace/evaluate";
import { useTrace } from "../work/document";
import { usePlayback } from "../work/playback";

import { ByHandForm } from "./by-hand";
import { RunOn } from "./run-on";

export function AtThisBlock() {
  const trace = useTrace();
  const block = usePlayback((work) => work.block);
  const time = usePlayback((work) => work.time);
  const unit = useUnit();
  const entry = trace?.blocks[block];
  if (!trace || !entry) return null;
  const place = placeAt(trace, time);
  const held = heldAt(trace, time);
  const speed = speedAt(trace, time);
  const figures: [string, string][] = [
    ["spindle holds", held === null ? "neither held nor free" : held ? `T${held}` : "nothing"],
    [
      "spindle turns",
      Math.abs(speed) < 0.5 ? "stands" : `${fixed(Math.abs(speed), 0)} ${speed > 0 ? "forwards" : "backwards"}`,
    ],
    ...(place
      ? (["X", "Y", "Z"] as const).map((axis, index): [string, string] => [
          axis,
          shown(place[index] as number, "length", unit),
        ])
      : []),
    ...parametersAt(trace, block).map(([name, value]): [string, string] => [
      name,
      String(Math.round(value * 1e6) / 1e6).replace("-", "−"),
    ]),
  ];
  return (
    <section aria-label="At this block" className="border-t border-rule pb-4">
      <h3 className="flex justify-between px-3.5 pt-3 pb-1 font-semibold">
        At this block <span className="font-normal text-ink-3">line {entry.line}</span>
      </h3>
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 px-3.5 text-[14px]">
        {figures.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className={name.startsWith("#") ? "font-mono text-[13px] text-dim" : "text-ink-2"}>{name}</dt>
            <dd className="text-right">{value}</dd>
          </div>
        ))}
      </dl>
      <RunOn trace={trace} />
      <ByHandForm block={block} />
    </section>
  );
}
