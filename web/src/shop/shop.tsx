/** The shop: the machines, each with a small plan to scale and how far it is along the stages. */

import { Upload } from "lucide-react";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { client, csrf, type Fault, type Scene, type ShopEntry } from "../api/client";
import { useAnswer } from "../api/query";
import { PlanBodies } from "../drawing/bodies";
import { fixed, shown, unitOf } from "../quantity/format";
import { when } from "../quantity/when";
import { StageMark } from "../shell/marks";
import { may } from "../shell/session";
import { CardMenu, putAway } from "./card-menu";
import { listed, ORDERS, type Order } from "./listed";
import { NewMachine } from "./new-machine";

interface Refused {
  what: string;
  faults: Fault[];
}

export default function Shop() {
  const { data: entries, trouble: unanswered } = useAnswer(["machines"], () => client.GET("/api/machines"));
  const [refused, setRefused] = useState<Refused | null>(null);
  const [search, setSearch] = useState("");
  const [order, setOrder] = useState<Order>("name");
  const seen = listed(entries?.filter((entry) => !entry.put_away) ?? [], search, order);
  const away = listed(entries?.filter((entry) => entry.put_away) ?? [], search, order);
  const refuse = (what: string) => setRefused(what ? { what, faults: [] } : null);
  return (
    <div className="h-full overflow-auto p-6">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="mr-auto text-[22px] font-semibold">The shop</h1>
        {(entries?.length ?? 0) > 1 && (
          <>
            <input
              type="search"
              className="field w-44! text-left!"
              placeholder="search machines"
              aria-label="Search machines"
              value={search}
              onChange={(event) => setSearch(event.currentTarget.value)}
            />
            <select
              className="min-h-10 bg-transparent"
              aria-label="Order of the machines"
              value={order}
              onChange={(event) => setOrder(event.currentTarget.value as Order)}
            >
              {Object.entries(ORDERS).map(([name, says]) => (
                <option key={name} value={name}>
                  {says}
                </option>
              ))}
            </select>
          </>
        )}
        {may("technician") && (
          <>
            <BringIn onRefused={setRefused} />
            <NewMachine />
          </>
        )}
      </div>
      <Refusal what={refused?.what || unanswered} faults={refused?.faults ?? []} />
      {entries?.length === 0 && (
        <p className="mt-6 text-ink-2">No machines yet. Make a new one, or import a Setup file.</p>
      )}
      {search && !seen.length && <p className="mt-6 text-ink-2">No machine found for “{search}”.</p>}
      <ul className="mt-5 grid auto-rows-fr grid-cols-[repeat(auto-fill,minmax(340px,1fr))] gap-4">
        {seen.map((entry) => (
          <li key={entry.slug} className="relative min-h-[296px]">
            <Entry entry={entry} />
            {may("technician") && (
              <div className="absolute top-2 right-2">
                <CardMenu entry={entry} onRefused={refuse} />
              </div>
            )}
          </li>
        ))}
      </ul>
      {away.length > 0 && <PutAway entries={away} onRefused={refuse} />}
    </div>
  );
}

/** The machines that are put away: looked at, or brought back. */
function PutAway({ entries, onRefused }: { entries: ShopEntry[]; onRefused: (what: string) => void }) {
  return (
    <section className="mt-8" aria-label="Put away">
      <h2 className="font-semibold">Put away</h2>
      <ul className="mt-1 max-w-2xl">
        {entries.map((entry) => (
          <li key={entry.slug} className="flex min-h-11 items-center gap-4 border-t border-rule-2">
            <Link className="link flex-1" to={`/machines/${entry.slug}/changer`}>
              {entry.name}
            </Link>
            <span className="text-[13.5px] text-ink-3">since {when(entry.put_away ?? "")}</span>
            {may("technician") && (
              <button
                type="button"
                className="button plain"
                onClick={() => void putAway(entry.slug, false).then(onRefused)}
              >
                Bring back
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function BringIn({ onRefused }: { onRefused: (refused: Refused | null) => void }) {
  const file = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  async function bringIn(chosen: File) {
    onRefused(null);
    if (chosen.size > 5_500_000) {
      const size = fixed(chosen.size / 1e6, 1);
      onRefused({
        what: `${chosen.name} has ${size} MB; a Setup file has at most 4 MB. Is it another file?`,
        faults: [],
      });
      return;
    }
    const response = await fetch("/api/machines/import", {
      method: "POST",
      headers: { ...csrf(), "Content-Type": "application/json" },
      body: chosen,
    }).catch(() => null);
    const body = (await response?.json().catch(() => null)) as {
      slug?: string;
      message?: string;
      faults?: Fault[];
    } | null;
    if (response?.ok && body?.slug) return navigate(`/machines/${body.slug}/machine`);
    const why = body?.message ?? "The server did not answer.";
    onRefused({ what: `${chosen.name} was not imported. ${why}`, faults: body?.faults ?? [] });
  }
  return (
    <>
      <input
        ref={file}
        type="file"
        accept=".json,application/json"
        className="hidden"
        aria-label="Setup file"
        onChange={(event) => {
          const chosen = event.currentTarget.files?.[0];
          event.currentTarget.value = "";
          if (chosen) void bringIn(chosen);
        }}
      />
      <button type="button" className="button plain" onClick={() => file.current?.click()}>
        <Upload size={16} /> Import a Setup file
      </button>
    </>
  );
}

function Refusal({ what, faults }: { what: string; faults: Fault[] }) {
  if (!what) return null;
  return (
    <div role="alert" className="mt-4 border-l-2 border-stop bg-stop-wash p-3 text-stop">
      <p className="font-semibold whitespace-pre-line">{what}</p>
      <ul className="mt-1">
        {faults.slice(0, 40).map((fault) => (
          <li key={fault.where + fault.what}>
            <code className="font-mono text-[13px]">{fault.where || "file"}</code> {fault.what}
          </li>
        ))}
        {faults.length > 40 && <li>and {faults.length - 40} more</li>}
      </ul>
    </div>
  );
}

function Entry({ entry }: { entry: ShopEntry }) {
  if (!entry.scene) return <Unreadable entry={entry} />;
  return <Readable entry={entry} scene={entry.scene} />;
}

/** A stored Setup that can't be read: what is wrong with it, and its file; the other machines are not concerned. */
function Unreadable({ entry }: { entry: ShopEntry }) {
  return (
    <div className="h-full border border-stop bg-panel p-4">
      <div className="text-[19px] font-semibold">{entry.name}</div>
      <p className="text-stop">{entry.description}</p>
      <ul className="mt-2 text-[14px] text-ink-2">
        {entry.unreadable.slice(0, 5).map((fault) => (
          <li key={fault.where + fault.what}>
            <code className="font-mono text-[13px]">{fault.where || "file"}</code> {fault.what}
          </li>
        ))}
      </ul>
      <a className="link mt-2 inline-block" href={`/api/machines/${entry.slug}/file`}>
        Download its file
      </a>
      <div className="mt-2 text-[13px] text-ink-3">
        revision {entry.revision}, {entry.author}, {when(entry.changed)}
      </div>
    </div>
  );
}

function Readable({ entry, scene }: { entry: ShopEntry; scene: Scene }) {
  return (
    <Link
      to={`/machines/${entry.slug}/changer`}
      className="flex h-full gap-5 border border-rule bg-panel p-4 hover:border-now"
    >
      <SmallPlan entry={entry} scene={scene} />
      <div className="min-w-0 flex-1">
        <div className="pr-8 text-[19px] font-semibold">{entry.name}</div>
        <div className="pr-8 text-ink-2">{entry.description}</div>
        <div className="mt-1 text-[13.5px] text-ink-3">
          travel{" "}
          {entry.travel.map(([low = 0, high = 0]) => shown(high - low, "length", entry.unit, "short")).join(" × ")}{" "}
          {unitOf("length", entry.unit)}
        </div>
        <ul className="mt-3 grid gap-1">
          {entry.stages.map((stage) => (
            <li key={stage.name} className="flex items-center gap-2" title={stage.why}>
              <StageMark mark={stage.mark} /> {stage.name}
              <span className="truncate text-[13px] text-ink-3">
                {stage.mark === "filled" ? "filled in" : stage.mark}
              </span>
            </li>
          ))}
        </ul>
        <div className="mt-3 text-[13px] text-ink-3">
          revision {entry.revision}, {entry.author}, {when(entry.changed)}
        </div>
      </div>
    </Link>
  );
}

/** The travel with the changer in it, to scale. */
function SmallPlan({ entry, scene }: { entry: ShopEntry; scene: Scene }) {
  const [x, y] = entry.travel as [[number, number], [number, number]];
  const [wide, deep] = [x[1] - x[0], y[1] - y[0]];
  const disc = scene.magazine?.shapes.disc;
  const [dx = 0, dy = 0] = disc?.home ?? [];
  const [xs, ys] = disc
    ? [
        [dx - disc.rim, dx + disc.rim],
        [dy - disc.rim, dy + disc.rim],
      ]
    : [[], []];
  const [left, right] = [Math.min(x[0], ...xs), Math.max(x[1], ...xs)]; // a disc may stand beside the travel
  const [low, top] = [Math.min(y[0], ...ys), Math.max(y[1], ...ys)];
  const scale = Math.min(150 / (right - left), 190 / (top - low));
  const to = { scale, atX: (mm: number) => 1 + (mm - left) * scale, atY: (mm: number) => 1 + (top - mm) * scale };
  return (
    <svg
      width="152"
      height="192"
      role="img"
      aria-label={`Plan of ${entry.name}, ${shown(wide, "length", entry.unit, "short")} by ${shown(deep, "length", entry.unit, "short")} ${unitOf("length", entry.unit)}`}
    >
      <rect
        x={to.atX(x[0])}
        y={to.atY(y[1])}
        width={wide * scale}
        height={deep * scale}
        fill="var(--sheet)"
        className="line-thin"
        style={{ stroke: "var(--ink-2)" }}
      />
      <PlanBodies scene={scene} to={to} />
      {disc && (
        <circle cx={to.atX(dx)} cy={to.atY(dy)} r={disc.rim * scale} fill="var(--part)" className="line-outline" />
      )}
      {scene.magazine?.pockets.map((pocket) => (
        <circle
          key={pocket.pocket}
          cx={to.atX(pocket.x)}
          cy={to.atY(pocket.y)}
          r={Math.max(1.6, (scene.magazine?.radius ?? 0) * scale)}
          fill={pocket.tool ? "var(--ink)" : "var(--sheet)"}
          stroke="var(--ink)"
          strokeWidth="0.8"
        />
      ))}
    </svg>
  );
}
