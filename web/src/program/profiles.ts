import { type ControlProfile, client } from "../api/client";
import { useAnswer } from "../api/query";
import { useSetup } from "../work/document";

/** The control profiles there are: those that come with Orthotrope, and the machine's own. */
export function useProfiles(): (ControlProfile & { shipped: boolean })[] {
  const own = useSetup((setup) => setup?.profiles) ?? [];
  const { data } = useAnswer(["profiles"], () => client.GET("/api/profiles"), { fixed: true });
  return [...(data ?? []).map((p) => ({ ...p, shipped: true })), ...own.map((p) => ({ ...p, shipped: false }))];
}
