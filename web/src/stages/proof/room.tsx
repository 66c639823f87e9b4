/** The room of each quantity: how wrong it may really be before something of the proof fails, the tightest first. */
import { Ruler } from "lucide-react";
import { useState } from "react";
import { client, noConnection, type RoomResponse, type RoomSearch, refusal } from "../../api/client";
import { learn, useAnswer } from "../../api/query";
import { SeverityMark } from "../../common/marks";
import { Progress } from "../../common/progress";
import { useUnit } from "../../fields/rows";
import { FindingItem } from "../../findings/findings";
import { fixed, kindOf, type MachineUnit, shown, unitOf } from "../../quantity/format";
import { sequenceName } from "../../sequences";
import type { Sequence } from "../../sequences/sequence";
import { may } from "../../session/session";
import { useMachine, useSaving } from "../../work/document";
import { place, said } from "../../work/naming";

const PROGRESS = 500;

type Limit = RoomResponse["room"]["less"];

export type OpenAt = (of: Sequence, at: number | null) => void;

/** The newest search of the machine; asked for again while it runs. */
export function useRooms(slug: string | null) {
  const changed = useMachine((machine) => machine?.changed);
  const [refused, setRefused] = useState("");
  const key = ["rooms", slug, changed];
  const newest = useAnswer<RoomSearch | null>(
    slug ? key : null,
    () => client.GET("/api/machines/{slug}/rooms/latest", { params: { path: { slug: slug ?? "" } } }),
    { every: (known) => known?.state === "running" && PROGRESS, keep: 3 },
  );
  const search = newest.data ?? null;
  const start = async () => {
    if (!slug) return;
    const { data, error } = await client
      .POST("/api/machines/{slug}/rooms", { params: { path: { slug } } })
      .catch(noConnection);
    setRefused(data ? "" : refusal(error));
    if (data) learn<RoomSearch | null>(key, data);
  };
  const stop = async () => {
    if (!slug || !search) return;
    const { data, error } = await client
      .POST("/api/machines/{slug}/rooms/{number}/cancel", { params: { path: { slug, number: search.id } } })
      .catch(noConnection);
    setRefused(data ? "" : refusal(error));
    await newest.refetch();
  };
  return { search, trouble: refused || newest.trouble, start, stop };
}

const tightest = ({ room }: RoomResponse) => [room.less, room.more].filter((limit) => limit.fails);

export function RoomList({ search, onOpen }: { search: RoomSearch | null; onOpen: OpenAt }) {
  const [all, setAll] = useState(false);
  const rooms = search?.rooms ?? [];
  const failing = rooms.filter((entry) => tightest(entry).length > 0);
  const reported = all ? rooms : failing;
  return (
    <div className="flex h-full flex-col overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[17px] font-semibold">How wrong each quantity may be</h2>
      <p className="mt-1 max-w-[70ch] text-[14px] text-ink-2">
        The texts are run where one quantity is really another than the Setup says, by more and more, until a sequence
        does harm or is not completed. What a wrong value does to a measured one is not judged here.
      </p>
      {!search && (
        <p className="mt-3 flex items-center gap-2 text-ink-2">
          <Ruler size={18} aria-hidden /> Not searched yet. Press "Find the room".
        </p>
      )}
      {reported.length > 0 && (
        <table aria-label="Room of the quantities" className="mt-3 w-full border-collapse text-[14.5px]">
          <thead>
            <tr className="text-[13px] text-ink-3">
              {["Value", "Less by", "More by", "Known", "What fails first"].map((name) => (
                <th key={name} className={`pr-4 pb-1 font-normal ${name.endsWith("by") ? "text-right" : "text-left"}`}>
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {reported.map((entry) => (
              <RoomRow key={entry.room.key} entry={entry} short={isShort(search, entry)} onOpen={onOpen} />
            ))}
          </tbody>
        </table>
      )}
      {search && search.state !== "running" && rooms.length > failing.length && (
        <label className="mt-3 flex min-h-10 items-center gap-2 text-[14px] text-ink-2">
          <input type="checkbox" checked={all} onChange={(event) => setAll(event.currentTarget.checked)} />
          Also the {rooms.length - failing.length} at which nothing fails as far as was tried
        </label>
      )}
    </div>
  );
}

const isShort = (search: RoomSearch | null, entry: RoomResponse) =>
  search?.findings.some((finding) => finding.quantity === entry.room.where) ?? false;

function RoomRow({ entry, short, onOpen }: { entry: RoomResponse; short: boolean; onOpen: OpenAt }) {
  const unit = useUnit();
  const { room, known } = entry;
  const limit = tightest(entry).sort((one, other) => one.by - other.by)[0];
  const of = limit?.sequence;
  return (
    <>
      <tr>
        <th colSpan={5} scope="rowgroup" className="border-t border-rule-2 pt-1.5 text-left font-semibold">
          {short && <SeverityMark severity="warn" />} {place(room.key)}
        </th>
      </tr>
      <tr className="align-baseline" data-room={room.key}>
        <td className={`${FIGURE} text-left!`}>{said(room.value, room.unit, unit)}</td>
        <td className={FIGURE}>{by(room.less, room.unit, unit)}</td>
        <td className={FIGURE}>{by(room.more, room.unit, unit)}</td>
        <td className={`${FIGURE} text-left! text-ink-2`}>{knownSaid(known, room.unit, unit)}</td>
        <td className="whitespace-nowrap">
          {limit && of && (
            <button type="button" className="link min-h-10" onClick={() => onOpen(of, limit.at_seconds)}>
              {sequenceName(of)}
              {limit.at_seconds !== null && ` · ${fixed(limit.at_seconds, 1)} s`}
              {limit.line !== null && ` · line ${limit.line}`}
            </button>
          )}
        </td>
      </tr>
      {limit && (
        <tr>
          <td colSpan={5} className="pb-2 text-[13.5px] leading-snug text-ink-2">
            {limit.says}
          </td>
        </tr>
      )}
    </>
  );
}

const FIGURE = "pr-4 text-right whitespace-nowrap tabular-nums";

/** How far off it may be one way. */
function by(limit: Limit, of: string, unit: MachineUnit): string {
  const kind = kindOf(of);
  const value = `${shown(limit.by, kind, unit)} ${unitOf(kind, unit)}`;
  return limit.fails ? value : `> ${value}`;
}

function knownSaid(known: RoomResponse["known"], of: string, unit: MachineUnit): string {
  if (known.half_width === null) return known.how;
  return `${known.how === "measured" ? "measured " : ""}± ${shown(known.half_width, kindOf(of), unit)}`;
}

/** What is known less closely than it has room. */
export function RoomSide({ search }: { search: RoomSearch | null }) {
  const findings = search?.findings ?? [];
  return (
    <section aria-label="Findings">
      <h3 className="flex justify-between px-4 pt-3 pb-2 font-semibold">
        Findings <span className="font-normal text-ink-3">{findings.length}</span>
      </h3>
      {search?.state === "done" && !findings.length && (
        <p className="px-4 text-ink-2">No quantity is known less closely than it has room.</p>
      )}
      {!search && <p className="px-4 text-ink-2">Not searched yet.</p>}
      <ul>
        {findings.map((finding) => (
          <FindingItem key={finding.message} finding={finding} link={null} />
        ))}
      </ul>
    </section>
  );
}

export function RoomFoot({ of }: { of: ReturnType<typeof useRooms> }) {
  const { search, trouble, start, stop } = of;
  const running = search?.state === "running";
  const saving = useSaving();
  return (
    <div className="flex items-center gap-4 border-t border-rule bg-panel px-4">
      <button type="button" className="button" disabled={!running} onClick={stop}>
        Stop
      </button>
      <Progress of="search" share={search?.total ? search.done / search.total : 0} className="flex-1" />
      <span className="min-w-40">
        {trouble ? (
          <span className="text-stop">{trouble}</span>
        ) : search ? (
          `${search.done} of ${search.total} quantities${search.state === "cancelled" ? ", stopped" : ""}${search.stale ? ", stale" : ""}`
        ) : (
          "not searched"
        )}
        {search?.error && <span className="text-stop"> {search.error}</span>}
      </span>
      {may("technician") && (
        <button type="button" className="button first" disabled={running || saving !== "saved"} onClick={start}>
          {search && !search.stale ? "Find it again" : "Find the room"}
        </button>
      )}
    </div>
  );
}
