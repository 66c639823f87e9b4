/** The keys that play and step a sequence, after something was chosen: Space must not open the list again that it was chosen in. */
import { type KeyboardEvent, useRef } from "react";

/** The keys are the score's. */
export function handOver() {
  document.querySelector<HTMLElement>("[data-plays]")?.focus({ preventScroll: true });
}

/** For a list of choices: hands the keys over where it was not chosen with the arrows, which may go on to the next one. */
export function useHandOver() {
  const keyed = useRef(false);
  return {
    onKeyDown: (event: KeyboardEvent) => {
      keyed.current = /^(Arrow|Home|End|Page|.$)/.test(event.key);
    },
    chosen: () => {
      if (!keyed.current) handOver();
      keyed.current = false;
    },
  };
}
