import { useEffect, useState } from "react";
import { type ControlProfile, client } from "../../api/client";
import { useWork } from "../../work/store";

let shipped: ControlProfile[] | null = null;

/** The control profiles there are: those that come with Orthotrope, and the machine's own. */
export function useProfiles(): (ControlProfile & { shipped: boolean })[] {
  const own = useWork((work) => work.document?.profiles) ?? [];
  const [known, setKnown] = useState(shipped);
  useEffect(() => {
    if (known) return;
    void client
      .GET("/api/profiles")
      .then(({ data }) => {
        shipped = data?.length ? data : null;
        setKnown(shipped);
      })
      .catch(() => {});
  }, [known]);
  return [...(known ?? []).map((p) => ({ ...p, shipped: true })), ...own.map((p) => ({ ...p, shipped: false }))];
}
