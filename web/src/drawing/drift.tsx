/** A quantity's readings over time. */
import { useSize } from "../common/use-size";
import { useUnit } from "../fields/rows";
import { shown } from "../quantity/format";
import { when } from "../quantity/when";
import { useReadings } from "../readings/readings";
import { drift } from "./drift-placing";

/** `title`: what it is, at the beginning of a line. */
export function Drift({ quantity, title }: { quantity: string; title: string }) {
  const { element, width } = useSize<HTMLDivElement>();
  const unit = useUnit();
  const list = useReadings();
  const mine = list.filter((reading) => reading.pointer === quantity && reading.source !== "read-back").reverse();
  const height = 130;
  const { points, ticks } = drift(
    mine.map((reading) => reading.value),
    { width, height },
  );
  return (
    <section ref={element} aria-label={`${title} over time`} className="mt-5 border-t border-rule pt-2">
      <h3 className="font-semibold">{title} over time</h3>
      {mine.length === 0 && <p className="text-[14.5px] text-ink-3">No reading of it yet.</p>}
      {mine.length > 0 && width > 100 && (
        <svg
          width={width}
          height={height}
          role="img"
          aria-label={`${mine.length} readings of the ${title.toLowerCase()}`}
        >
          {ticks.map(({ y, value }) => (
            <g key={value}>
              <path d={`M76 ${y}H${width - 8}`} className="line-thin" />
              <text x="70" y={y + 5} textAnchor="end" className="caption">
                {shown(value, "length", unit)}
              </text>
            </g>
          ))}
          <path
            d={points.map(([x, y], at) => `${at ? "L" : "M"}${x} ${y}`).join("")}
            fill="none"
            className="line-outline"
          />
          {points.map(([x, y], at) => (
            <circle
              key={mine[at]?.id}
              cx={x}
              cy={y}
              r="4"
              fill={at === points.length - 1 ? "var(--now)" : "var(--ink)"}
            >
              <title>{`${shown(mine[at]?.value ?? 0, "length", unit)}, ${when(mine[at]?.taken ?? "")}`}</title>
            </circle>
          ))}
        </svg>
      )}
    </section>
  );
}
