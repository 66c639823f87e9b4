/** Where the time of an exchange goes: the longest and the shortest, to one scale. */
import type { Proof } from "../../api/client";
import { fixed } from "../../quantity/format";

const FILL: Record<string, string> = {
  sideways: "var(--steel-2)",
  "up and down": "var(--steel)",
  "at the feed": "var(--part-2)",
  waiting: "url(#waiting)",
};

const named = (tool: number) => (tool ? `T${tool}` : "empty");

export function Times({ times }: { times: Proof["times"] }) {
  const longest = Math.max(0, ...times.map((entry) => entry.seconds));
  if (!longest) return null;
  const width = 470;
  return (
    <section aria-label="Where the time goes" className="mt-4 border-t border-rule pt-2">
      <h3 className="font-semibold">Where the time goes</h3>
      <svg
        width={width + 150}
        height={times.length * 34 + 30}
        role="img"
        aria-label="Time of the longest and the shortest exchange"
      >
        <defs>
          <pattern id="waiting" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="6" height="6" fill="var(--warn-wash)" />
            <path d="M0 0V6" stroke="var(--warn)" strokeWidth="1.4" />
          </pattern>
        </defs>
        {times.map((entry, row) => {
          let at = 110;
          return (
            <g key={`${entry.from_tool}-${entry.to_tool}`} data-seconds={entry.seconds}>
              <text x="0" y={row * 34 + 20}>
                {named(entry.from_tool)} to {named(entry.to_tool)}
              </text>
              {entry.shares.map((share) => {
                const wide = (share.seconds / longest) * (width - 60);
                const x = at;
                at += wide;
                return (
                  <g key={share.name}>
                    <rect
                      x={x}
                      y={row * 34 + 5}
                      width={wide}
                      height="22"
                      fill={FILL[share.name]}
                      className="line-thin"
                      data-share={share.name}
                    >
                      <title>
                        {share.name}: {fixed(share.seconds, 1)} s
                      </title>
                    </rect>
                    {wide > 34 && (
                      <text x={x + wide / 2} y={row * 34 + 21} textAnchor="middle">
                        {fixed(share.seconds, 1)}
                      </text>
                    )}
                  </g>
                );
              })}
              <text x={at + 8} y={row * 34 + 21}>
                {fixed(entry.seconds, 1)} s
              </text>
            </g>
          );
        })}
        {(times[0]?.shares ?? []).map((share, index) => (
          <g key={share.name}>
            <rect
              x={110 + index * 112}
              y={times.length * 34 + 8}
              width="14"
              height="14"
              fill={FILL[share.name]}
              className="line-thin"
            />
            <text x={130 + index * 112} y={times.length * 34 + 20} className="caption">
              {share.name}
            </text>
          </g>
        ))}
      </svg>
    </section>
  );
}
