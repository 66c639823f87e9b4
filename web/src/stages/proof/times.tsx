/** Where the time of an exchange goes: the longest and the shortest, to one scale; and which change would save most. */
import { useState } from "react";
import { client, noConnection, type Proof, refusal, type Saving } from "../../api/client";
import { fixed } from "../../quantity/format";
import { keyOf, sequenceName } from "../../sequences";
import type { SequenceOf } from "../../sequences/sequence";
import { setupNow } from "../../work/document";

const FILL: Record<string, string> = {
  sideways: "var(--steel-2)",
  "up and down": "var(--steel)",
  "at the feed": "var(--part-2)",
  waiting: "url(#waiting)",
};

/** px of the longest exchange's bar, of what stands left of it, and of a row */
const BAR = 410;
const LEFT = 110;
const ROW = 34;

type Entry = Proof["times"][number];

export function Times({ times }: { times: Proof["times"] }) {
  const longest = Math.max(0, ...times.map((entry) => entry.seconds));
  if (!longest) return null;
  return (
    <section aria-label="Where the time goes" className="mt-4 border-t border-rule pt-2">
      <h3 className="font-semibold">Where the time goes</h3>
      <svg
        width={LEFT + BAR + 100}
        height={times.length * ROW + 30}
        role="img"
        aria-label="Time of the longest and the shortest exchange"
      >
        <defs>
          <pattern id="waiting" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="6" height="6" fill="var(--warn-wash)" />
            <path d="M0 0V6" stroke="var(--warn)" strokeWidth="1.4" />
          </pattern>
        </defs>
        {times.map((entry, row) => (
          <Bar key={keyOf(entry.sequence)} entry={entry} top={row * ROW} scale={BAR / longest} />
        ))}
        {(times[0]?.shares ?? []).map((share, index) => (
          <g key={share.name}>
            <rect
              x={LEFT + index * 112}
              y={times.length * ROW + 8}
              width="14"
              height="14"
              fill={FILL[share.name]}
              className="line-thin"
            />
            <text x={LEFT + 20 + index * 112} y={times.length * ROW + 20} className="caption">
              {share.name}
            </text>
          </g>
        ))}
      </svg>
    </section>
  );
}

/** `scale`: px a second */
function Bar({ entry, top, scale }: { entry: Entry; top: number; scale: number }) {
  let at = LEFT;
  return (
    <g data-seconds={entry.seconds}>
      <text x="0" y={top + 20}>
        {sequenceName(entry.sequence)}
      </text>
      {entry.shares.map((share) => {
        const x = at;
        at += share.seconds * scale;
        return <Share key={share.name} share={share} x={x} top={top} wide={share.seconds * scale} />;
      })}
      <text x={at + 8} y={top + 21}>
        {fixed(entry.seconds, 1)} s
      </text>
    </g>
  );
}

function Share({ share, x, top, wide }: { share: Entry["shares"][number]; x: number; top: number; wide: number }) {
  return (
    <g>
      <rect
        x={x}
        y={top + 5}
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
        <text x={x + wide / 2} y={top + 21} textAnchor="middle">
          {fixed(share.seconds, 1)}
        </text>
      )}
    </g>
  );
}

const SHOWN = 8;

/** What would save most in the longest exchange: each change was tried on a copy. Asked for, since it is run many times. */
export function Savings({ of }: { of: SequenceOf<"exchange"> }) {
  const [found, setFound] = useState<Saving[] | null>(null);
  const [says, setSays] = useState("");
  const ask = async () => {
    const document = setupNow();
    setSays("Trying changes …");
    const { data, error } = await client
      .POST("/api/savings", {
        body: { document: document ?? {}, from_tool: of.from_tool, to_tool: of.to_tool },
      })
      .catch(noConnection);
    setFound(data ?? null);
    setSays(data ? "" : refusal(error));
  };
  const most = found?.[0]?.seconds ?? 1;
  return (
    <section aria-label="What would save most" className="mt-3">
      <h3 className="font-semibold">What would save most, {sequenceName(of)}</h3>
      {!found && (
        <button type="button" className="button plain mt-1" onClick={() => void ask()}>
          Try changes
        </button>
      )}
      {says && <p className="text-ink-2">{says}</p>}
      {found?.length === 0 && <p className="text-ink-2">No single change that was tried would shorten it.</p>}
      <ul className="mt-1">
        {found?.slice(0, SHOWN).map((saving) => (
          <li key={saving.says} className="grid grid-cols-[110px_1fr] items-center gap-3 py-0.5 text-[14.5px]">
            <span className="flex items-center justify-end gap-2">
              <span
                className="h-3.5 border border-ink-3"
                style={{ width: Math.max(2, (saving.seconds / most) * 58), background: "var(--steel-2)" }}
              />
              {fixed(saving.seconds, 2)} s
            </span>
            {saving.says}
          </li>
        ))}
      </ul>
    </section>
  );
}
