/** What each feed costs in time and in error, and the time of each tool, its length known and not known. */

import { useUnit } from "../../fields/rows";
import { fixed, shown, unitOf } from "../../quantity/format";
import { useSetup } from "../../work/document";
import { useSetter } from "./which";

export function Times() {
  const { answer } = useSetter();
  if (!answer) return null;
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[17px] font-semibold">Feeds and times</h2>
      <Feeds />
      <Tools />
    </div>
  );
}

function Feeds() {
  const { answer, index } = useSetter();
  const setter = useSetup((setup) => setup?.setters[index]);
  const unit = useUnit();
  if (!answer || !setter) return null;
  const mm = (value: number | null | undefined) => `${shown(value ?? 0, "length", unit)} ${unitOf("length", unit)}`;
  const feed = (value: number) => `${shown(value, "feed", unit)} ${unitOf("feed", unit)}`;
  const rows = [
    ["search", feed(setter.search_feed), `pushes it ${mm(answer.push)} of the ${mm(answer.within)} it gives`],
    [
      "measuring",
      feed(setter.measure_feed),
      `latched ${mm(answer.workings.lag?.value)} after the contact: it repeats, and is in the plane height`,
    ],
    [
      "fastest search",
      answer.fastest === null ? "none" : feed(answer.fastest),
      answer.fastest === null ? "the trigger travel alone is too much" : "stays within overtravel and back-off",
    ],
  ];
  return (
    <table className="mt-2" aria-label="Feeds">
      <tbody>
        {rows.map(([name, value, says]) => (
          <tr key={name} className="border-t border-rule-2">
            <td className="py-1.5 pr-6 text-ink-2">{name}</td>
            <td className="pr-6 text-right font-medium">{value}</td>
            <td className="text-[14.5px]">{says}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Tools() {
  const { answer } = useSetter();
  const unit = useUnit();
  const names = useSetup((setup) => setup?.tools) ?? [];
  if (!answer?.tools.length)
    return <p className="mt-3 text-ink-2">Add a tool on the Tools stage; then its time stands here.</p>;
  return (
    <table className="mt-5" aria-label="Times of the touches">
      <thead>
        <tr className="text-right text-[13px] text-ink-3">
          <th className="text-left font-normal">tool</th>
          <th className="px-3 font-normal">begins at {unitOf("length", unit)}</th>
          <th className="px-3 font-normal">ends at</th>
          <th className="px-3 font-normal">length known, s</th>
          <th className="px-3 font-normal">not known, s</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {answer.tools.map((tool) => (
          <tr key={tool.number} className="border-t border-rule-2 text-right" data-tool={tool.number}>
            <td className="text-left">
              T{tool.number}{" "}
              <span className="text-ink-2">{names.find((entry) => entry.number === tool.number)?.name}</span>
            </td>
            <td className="px-3">{shown(tool.begin_z, "length", unit)}</td>
            <td className="px-3">{shown(tool.end_z, "length", unit)}</td>
            <td className="px-3">{fixed(tool.seconds, 1)}</td>
            <td className="px-3">{fixed(tool.seconds_unknown, 1)}</td>
            <td className="pl-3 text-left text-[13.5px] text-stop">{tool.says}</td>
          </tr>
        ))}
        <tr className="border-t border-ink text-right font-semibold">
          <td className="text-left">all of them</td>
          <td />
          <td />
          <td className="px-3">{fixed(answer.seconds, 1)}</td>
          <td className="px-3">{fixed(answer.seconds_unknown, 1)}</td>
          <td />
        </tr>
      </tbody>
    </table>
  );
}
