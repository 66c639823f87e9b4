/** The shop: a row for each machine, with what is missing before it is proven, and the mark of each stage. */

import { Upload } from "lucide-react";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { client, csrf, type Fault, type ShopEntry } from "../api/client";
import { useAnswer } from "../api/query";
import { StageMark } from "../common/marks";
import { fixed, shown, unitOf } from "../quantity/format";
import { when } from "../quantity/when";
import { may } from "../session/session";
import { CardMenu, putAway } from "./card-menu";
import { listed, ORDERS, type Order } from "./listed";
import { NewMachine } from "./new-machine";

/** ms until it is asked again for machines that are being worked out */
const AGAIN = 1000;

interface Refused {
  what: string;
  faults: Fault[];
}

export default function Shop() {
  const { data: entries, trouble: unanswered } = useAnswer(["machines"], () => client.GET("/api/machines"), {
    every: (found) => (found?.some((entry) => entry.pending) ? AGAIN : false),
  });
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
            <ImportFile onRefused={setRefused} />
            <NewMachine />
          </>
        )}
      </div>
      <Refusal what={refused?.what || unanswered} faults={refused?.faults ?? []} />
      {entries?.length === 0 && (
        <p className="mt-6 text-ink-2">No machines yet. Make a new one, or import a Setup file.</p>
      )}
      {search && !seen.length && <p className="mt-6 text-ink-2">No machine found for “{search}”.</p>}
      <ul className="mt-4 border-b border-rule" aria-label="Machines">
        {seen.map((entry) => (
          <li key={entry.slug} className="flex items-center border-t border-rule">
            <Entry entry={entry} />
            {may("technician") && <CardMenu entry={entry} onRefused={refuse} />}
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

function ImportFile({ onRefused }: { onRefused: (refused: Refused | null) => void }) {
  const file = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  async function importFile(chosen: File) {
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
          if (chosen) void importFile(chosen);
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
  if (entry.unreadable.length) return <Unreadable entry={entry} />;
  return (
    <Link
      to={`/machines/${entry.slug}/changer`}
      className="grid min-h-[62px] min-w-0 flex-1 grid-cols-[minmax(190px,1fr)_minmax(260px,1.6fr)_auto] items-center gap-x-5 px-3 py-2 hover:bg-now-wash max-[1100px]:grid-cols-[1fr_1.4fr]"
      data-machine={entry.slug}
    >
      <span className="min-w-0">
        <span className="block truncate text-[18px] font-semibold">{entry.name}</span>
        <span className="block truncate text-[14px] text-ink-2">
          {entry.description}
          {entry.travel.length > 0 && `, travel ${travelOf(entry)}`}
        </span>
      </span>
      <span className="min-w-0">
        <span className={`block ${entry.missing ? "" : "text-proven"}`} data-missing>
          {entry.pending ? "is being worked out …" : entry.missing || "Every stage is proven."}
        </span>
        <span className="block text-[13px] text-ink-3">
          revision {entry.revision}, {entry.author}, {when(entry.changed)}
        </span>
      </span>
      <span className="flex gap-2.5 max-[1100px]:hidden">
        {Object.entries(entry.stages).map(([name, mark]) => (
          <span key={name} className="grid justify-items-center text-[12.5px] text-ink-3" title={`${name}: ${mark}`}>
            <StageMark mark={mark} />
            {name}
          </span>
        ))}
      </span>
    </Link>
  );
}

const travelOf = (entry: ShopEntry) =>
  `${entry.travel.map(([low = 0, high = 0]) => shown(high - low, "length", entry.unit, "short")).join(" × ")} ${unitOf("length", entry.unit)}`;

/** A stored Setup that can't be read: what is wrong with it, and its file; the other machines are not concerned. */
function Unreadable({ entry }: { entry: ShopEntry }) {
  return (
    <div className="flex-1 border-l-4 border-stop px-3 py-2">
      <span className="text-[18px] font-semibold">{entry.name}</span>{" "}
      <span className="text-stop">{entry.description}</span>
      <ul className="text-[14px] text-ink-2">
        {entry.unreadable.slice(0, 5).map((fault) => (
          <li key={fault.where + fault.what}>
            <code className="font-mono text-[13px]">{fault.where || "file"}</code> {fault.what}
          </li>
        ))}
      </ul>
      <a className="link" href={`/api/machines/${entry.slug}/file`}>
        Download its file
      </a>
    </div>
  );
}
