/** The results of a routine that were kept, and the one action that keeps another. */
import { useState } from "react";
import { client, type KeptResult, noConnection, refusal, type Summed } from "../../api/client";
import { useAnswer } from "../../api/query";
import { useUnit } from "../../fields/rows";
import { hand } from "../../program/save";
import { when } from "../../quantity/when";
import { may } from "../../session/session";
import type { Place } from "../../touching/touches";
import { setupNow, useSaving, useSlug } from "../../work/document";
import { digits, named } from "./digits";

/** What a routine has found until now, the newest first. */
export function useKept(routine: string) {
  const slug = useSlug();
  const { data, refetch } = useAnswer<KeptResult[]>(slug ? ["routine-results", slug, routine] : null, () =>
    client.GET("/api/machines/{slug}/routines/results", { params: { path: { slug: slug ?? "" }, query: { routine } } }),
  );
  return { kept: data ?? [], loaded: data !== undefined, refetch };
}

interface KeepProps {
  found: Summed;
  asked: { routine: string; places: Place[]; stood: boolean };
  /** that this one is kept already */
  kept: boolean;
  onKept: () => Promise<unknown>;
}

export function Keep({ found, asked, kept, onKept }: KeepProps) {
  const slug = useSlug() ?? "";
  const saving = useSaving();
  const [trouble, setTrouble] = useState<{ of: Summed; says: string } | null>(null);
  const [keeping, setKeeping] = useState(false);
  const says = kept ? "This result is kept." : trouble?.of === found ? trouble.says : "";
  const path = { slug };
  const keep = async () => {
    setKeeping(true);
    const { data, error } = await client
      .POST("/api/machines/{slug}/routines/results", { params: { path }, body: asked })
      .catch(noConnection);
    if (data) await onKept();
    else setTrouble({ of: found, says: refusal(error) });
    setKeeping(false);
  };
  const paper = async () => {
    const document = setupNow() ?? {};
    const { data, error } = await client
      .POST("/api/machines/{slug}/routines/sheet", {
        params: { path },
        body: { ...asked, document },
        parseAs: "blob",
      })
      .catch(noConnection);
    if (data) hand(`${slug}-${asked.routine}.pdf`.toLowerCase().replaceAll(" ", "-"), data as unknown as Blob);
    else setTrouble({ of: found, says: refusal(error) });
  };
  return (
    <>
      {may("technician") && (
        <button
          type="button"
          className="button first"
          disabled={saving !== "saved" || kept || keeping}
          onClick={() => void keep()}
        >
          Keep this result
        </button>
      )}
      <button type="button" className="link" onClick={() => void paper()}>
        PDF
      </button>
      {says && <span role="status">{says}</span>}
    </>
  );
}

interface EarlierProps {
  kept: KeptResult[];
  /** the one whose touches stand above */
  open: number | null;
  onOpen: (result: KeptResult) => void;
}

export function Earlier({ kept, open, onOpen }: EarlierProps) {
  const unit = useUnit();
  const first = kept[0];
  if (!first) return null;
  return (
    <section aria-label="Earlier results" className="mt-4 border-t border-rule pt-2">
      <h3 className="font-semibold">Kept until now</h3>
      <table className="mt-1 text-[14.5px]" aria-label="Kept results">
        <thead>
          <tr className="text-left text-[13.5px] text-ink-3">
            <th className="pr-5 font-normal">when</th>
            <th className="pr-5 font-normal">by</th>
            {first.quantities.map((entry) => (
              <th key={entry.name} className="pr-5 text-right font-normal">
                {named(entry.name)}
              </th>
            ))}
            <th className="font-normal" />
            <th className="font-normal" />
          </tr>
        </thead>
        <tbody>
          {kept.map((entry) => (
            <tr
              key={entry.id}
              className={`border-t border-rule-2 ${entry.id === open ? "bg-now-wash" : ""}`}
              data-kept={entry.id}
              aria-current={entry.id === open || undefined}
            >
              <td className="pr-5">{when(entry.taken)}</td>
              <td className="pr-5">{entry.author}</td>
              {first.quantities.map(({ name }) => {
                const one = entry.quantities.find((other) => other.name === name);
                return (
                  <td key={name} className={`pr-5 text-right ${one?.fits === false ? "text-stop" : ""}`}>
                    {one && digits(one.value, one.unit, unit)}
                  </td>
                );
              })}
              <td className="pr-5 text-ink-3">{entry.says && "nothing set"}</td>
              <td>
                <button type="button" className="link" onClick={() => onOpen(entry)}>
                  open
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
