/** What the practice machine's control shows on its pages, asked anew when a program has ended. */
import { useEffect, useState } from "react";
import { useMachine } from "../work/document";
import { type Pages, useLive } from "./live";

/** ms after which it is asked once more while something is still under way: a program that is played at once goes on for a few of
 * the machine's turns, and its end may not be distinguished from its beginning */
const ONCE_MORE = 300;

/** Its touches are there once the program has ended, and only those of the last one. */
export function usePages(): Pages | null {
  const practice = useMachine((machine) => machine?.agent === "");
  const execution = useLive((live) => live.reported?.execution);
  // one that is played at once may have begun and ended between two of the agent's documents
  const runs = useLive((live) => live.runs);
  const [pages, setPages] = useState<Pages | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was begun changes them, though its number is not in them
  useEffect(() => {
    setPages(withoutTouches);
    if (!practice || !execution || execution === "ACTIVE") return;
    let here = true;
    let again: ReturnType<typeof setTimeout> | undefined;
    const ask = async () => {
      const { pages: reported = null } = await useLive.getState().send({ do: "pages" });
      if (!here) return;
      setPages(reported?.busy ? withoutTouches(reported) : reported);
      if (reported?.busy) again = setTimeout(() => void ask(), ONCE_MORE);
    };
    void ask();
    return () => {
      here = false;
      clearTimeout(again);
    };
  }, [practice, execution, runs]);
  return pages;
}

const withoutTouches = (pages: Pages | null): Pages | null => pages && { ...pages, touches: [] };
