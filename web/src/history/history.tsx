/** The history of a machine: its revisions with who, when and what changed; one can be looked at and restored. */

import { useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, type OldRevision, type Revision } from "../api/client";
import { dataOf, queries, useAnswer } from "../api/query";
import { Dialog } from "../common/dialog";
import { useUnit } from "../fields/rows";
import { when } from "../quantity/when";
import { is } from "../session/session";
import { useDocument, useMachine, useSlug } from "../work/document";
import { place, said } from "../work/naming";
import { lookBack } from "../work/opening";
import { Compare } from "./compare";
import { restore } from "./restore";

type Changes = Revision["changes"];

function ChangeList({ changes, empty }: { changes: Changes; empty: string }) {
  const unit = useUnit();
  if (!changes.length) return <p className="text-[14px] text-ink-3">{empty}</p>;
  return (
    <ul className="text-[14px] text-ink-2">
      {changes.slice(0, 30).map((change) => (
        <li key={change.where}>
          {place(change.where)}: {said(change.before, change.unit, unit)} →{" "}
          <b className="font-medium text-ink">{said(change.after, change.unit, unit)}</b>
        </li>
      ))}
      {changes.length > 30 && <li>and {changes.length - 30} more</li>}
    </ul>
  );
}

/** The revisions, the newest first, a page at a time. */
function useRevisions(slug: string | null, changed: string | undefined) {
  return useInfiniteQuery(
    {
      queryKey: ["revisions", slug, changed],
      queryFn: ({ pageParam }) =>
        dataOf(
          client.GET("/api/machines/{slug}/revisions", {
            params: { path: { slug: slug ?? "" }, query: { below: pageParam } },
          }),
        ),
      initialPageParam: null as number | null,
      getNextPageParam: (page) => ((page.at(-1)?.number ?? 1) > 1 ? page.at(-1)?.number : undefined),
      placeholderData: (before, asked) => (asked?.queryKey[1] === slug ? before : undefined),
      enabled: !!slug,
    },
    queries,
  );
}

export function History({ onClose }: { onClose: () => void }) {
  const slug = useSlug();
  const changed = useMachine((machine) => machine?.changed);
  const [shown, setShown] = useState<{ number: number; against: number | null } | null>(null);
  const [refused, setTrouble] = useState<string | null>(null);
  const pages = useRevisions(slug, changed);
  const old = useAnswer(shown === null ? null : ["revision", slug, shown.number, shown.against, changed], () =>
    client.GET("/api/machines/{slug}/revisions/{number}", {
      params: { path: { slug: slug ?? "", number: shown?.number ?? 0 }, query: { against: shown?.against } },
    }),
  );
  const revisions = pages.data?.pages.flat();
  const looked = shown !== null ? old.data : undefined;
  // what was changed and changed back within minutes is no revision to look for
  const listed = revisions?.filter(
    (revision) => revision.changes.length > 0 || revision.note || [1, revisions[0]?.number].includes(revision.number),
  );
  const numbers = revisions?.map((revision) => revision.number) ?? [];
  const trouble = refused || pages.failureReason?.message || old.trouble;

  async function restored(number: number) {
    const refused = await restore(number);
    setTrouble(refused);
    if (refused === null) setShown(null);
  }
  async function look(number: number) {
    if (useDocument.getState().saving !== "saved")
      return setTrouble("There are edits that are not saved yet. Wait, or settle them first.");
    await lookBack(number);
    if (number !== newest && useDocument.getState().looking?.number !== number)
      return setTrouble("This revision could not be loaded. Try again.");
    onClose();
  }
  const newest = revisions?.[0]?.number;
  const oldest = revisions?.at(-1)?.number ?? 1;
  return (
    <Dialog open onClose={onClose} title="History" wide>
      {trouble && <p className="says wrong">{trouble}</p>}
      <ol className="mt-3">
        {listed?.map((revision) => (
          <Entry
            key={revision.number}
            revision={revision}
            newest={newest}
            numbers={numbers}
            old={looked?.number === revision.number ? looked : null}
            onCompare={(against) => setShown({ number: revision.number, against })}
            onLook={() => void look(revision.number)}
            onRestore={() => void restored(revision.number)}
          />
        ))}
      </ol>
      {oldest > 1 && (
        <button type="button" className="button mt-2" onClick={() => void pages.fetchNextPage()}>
          Older revisions
        </button>
      )}
    </Dialog>
  );
}

interface EntryProps {
  revision: Revision;
  newest: number | undefined;
  numbers: number[];
  old: OldRevision | null;
  onCompare: (against: number | null) => void;
  onLook: () => void;
  onRestore: () => void;
}

function Entry({ revision, newest, numbers, old, onCompare, onLook, onRestore }: EntryProps) {
  return (
    <li className="grid grid-cols-[90px_1fr_auto] gap-3 border-t border-rule-2 py-2.5">
      <div>
        <div className="font-semibold">revision {revision.number}</div>
        <div className="text-[13px] text-ink-3">{revision.author}</div>
      </div>
      <div>
        <div className="text-[13px] text-ink-3">
          {when(revision.changed)} {revision.note && `· ${revision.note}`}
        </div>
        <ChangeList changes={revision.changes} empty={revision.number === 1 ? "The first." : "Nothing changed."} />
        {old && (
          <>
            <label className="mt-2 flex items-center gap-2 text-[14px]">
              beside revision
              <select
                className="choice w-20! border border-ink! px-1"
                value={old.against}
                onChange={(event) => onCompare(Number(event.currentTarget.value))}
              >
                {numbers
                  .filter((number) => number !== revision.number || number === old.against)
                  .map((number) => (
                    <option key={number} value={number}>
                      {number}
                    </option>
                  ))}
              </select>
            </label>
            <Compare old={old} />
          </>
        )}
      </div>
      <div className="flex flex-col gap-1">
        <button type="button" className="link" onClick={onLook}>
          look
        </button>
        <button type="button" className="link" onClick={() => onCompare(null)}>
          compare
        </button>
        {is("technician") && revision.number !== newest && (
          <button type="button" className="link" onClick={onRestore}>
            restore
          </button>
        )}
      </div>
    </li>
  );
}
