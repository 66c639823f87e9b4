/** What each routine came to, those that qualify a probe among them; or the one that a program was imported for. */
import { client, noConnection } from "../../api/client";
import { proving } from "../../score/proving";
import { useWork } from "../../work/store";

export const useProven = proving(
  () => {
    const { answer, imported } = useWork.getState();
    if (imported) return answer?.probing?.routine ? [answer.probing.routine] : [];
    return answer?.probing?.routines.map((entry) => entry.name) ?? [];
  },
  (document, routine) =>
    client
      .POST("/api/routines/proof", {
        body: { document, routine, program: useWork.getState().imported?.text ?? null },
      })
      .catch(noConnection),
);
