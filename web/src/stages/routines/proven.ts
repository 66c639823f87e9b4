/** What each routine came to, those that qualify a probe among them; or the one that a program was imported for. */
import { client, noConnection } from "../../api/client";
import { proving } from "../../score/proving";
import { previewNow } from "../../work/document";
import { useSelection } from "../../work/selection";

export const useProven = proving(
  () => {
    const answer = previewNow();
    const { imported } = useSelection.getState();
    if (imported) return answer?.probing?.routine ? [answer.probing.routine] : [];
    return answer?.probing?.routines.map((entry) => entry.name) ?? [];
  },
  (document, routine) =>
    client
      .POST("/api/routines/proof", {
        body: { document, routine, program: useSelection.getState().imported?.text ?? null },
      })
      .catch(noConnection),
);
