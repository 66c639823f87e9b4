/** What the approach feed does to the error: qualifying and measuring at the same feed takes it out. */

import { useUnit } from "../../fields/rows";
import { shown, unitOf } from "../../quantity/format";
import { may } from "../../session/session";
import { edit } from "../../work/editing";
import { useProbe } from "./which";

export function Feeds() {
  const { derived, probe, index } = useProbe();
  const unit = useUnit();
  if (!derived || !probe) return null;
  const mm = (value: number) => shown(value, "length", unit);
  const known = probe.qualified_feed ?? probe.measure_feed;
  const widest = Math.max(1e-9, ...derived.feeds.map((entry) => Math.abs(entry.error)));
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[17px] font-semibold">What the feed does to the error</h2>
      <p className="max-w-[64ch] text-[14.5px] text-ink-2">
        A touch is latched late by feed times delay, and that is in the effective diameter. Measuring at another feed
        leaves the difference in every surface. What the axis goes on after the latch matters for the overtravel only.
      </p>
      <table className="mt-3 text-[15px]" aria-label="Feed and error">
        <thead>
          <tr className="text-[13.5px] text-ink-3">
            <th className="pr-6 text-right font-normal">feed {unitOf("feed", unit)}</th>
            <th className="pr-6 text-right font-normal">surface off by {unitOf("length", unit)}</th>
            <th className="pr-6 text-right font-normal">goes on after the latch</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {derived.feeds.map((entry) => {
            const here = entry.feed === probe.measure_feed;
            const same = entry.feed === known;
            return (
              <tr key={entry.feed} className={`border-t border-rule-2 text-right ${here ? "bg-now-wash" : ""}`}>
                <td className="py-1 pr-6">{shown(entry.feed, "feed", unit)}</td>
                <td className="pr-6">
                  {entry.error < 0 ? "−" : entry.error > 0 ? "+" : ""}
                  {mm(Math.abs(entry.error))}
                </td>
                <td className="pr-6">{mm(entry.stops)}</td>
                <td className="text-left">
                  <svg width="170" height="16" role="presentation">
                    <path d="M80 0V16" className="line-thin" />
                    <rect
                      x={entry.error < 0 ? 80 + (entry.error / widest) * 76 : 80}
                      y="4"
                      width={(Math.abs(entry.error) / widest) * 76}
                      height="8"
                      fill="var(--now)"
                    />
                  </svg>
                  <span className="text-[13.5px] text-ink-2">
                    {same ? "qualified at this feed" : ""}
                    {same && here ? ", and " : ""}
                    {here ? "it measures at this feed" : ""}
                  </span>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {derived.feed_error !== 0 && (
        <p className="mt-3 text-warn" role="alert">
          It measures at another feed than it was qualified at: every surface is off by{" "}
          {mm(Math.abs(derived.feed_error))} {unitOf("length", unit)}.{" "}
          {may("technician") && (
            <button type="button" className="link" onClick={() => void edit(`/probes/${index}/measure_feed`, known)}>
              Measure at the feed it was qualified at
            </button>
          )}
        </p>
      )}
    </div>
  );
}
