/** What the practice machine's control shows on its pages, asked anew when a program has ended. */
import { useEffect, useState } from "react";
import { type Pages, useLive } from "../../live/live";
import { useWork } from "../../work/store";

export function usePages(): Pages | null {
  const practice = useWork((work) => work.machine?.agent === "");
  const execution = useLive((live) => live.told?.execution);
  const [pages, setPages] = useState<Pages | null>(null);
  useEffect(() => {
    if (!practice || !execution || execution === "ACTIVE") return;
    void useLive
      .getState()
      .send({ do: "pages" })
      .then((answer) => setPages(answer.pages ?? null));
  }, [practice, execution]);
  return pages;
}
