/** What is typed into a field until it is taken: Enter or leaving the field takes it, Escape leaves the value as it was. */
import { type KeyboardEvent, useRef, useState } from "react";
import { neighbour } from "../quantity/cells";
import { redo, undo } from "../work/editing";

export interface Typed {
  /** what is typed; null: nothing, the value stands */
  text: string | null;
  type: (text: string | null) => void;
  /** what is typed at this moment, for whoever is called before the next drawing */
  now: () => string | null;
}

export function useTyped(): Typed {
  const [text, setText] = useState<string | null>(null);
  const latest = useRef<string | null>(null);
  return {
    text,
    type: (next) => {
      latest.current = next;
      setText(next);
    },
    now: () => latest.current,
  };
}

/** The keys of a field: they do nothing else on the page, but what undoes and what stops the machine does it here too. */
export function fieldKeys(event: KeyboardEvent<HTMLInputElement>, typed: Typed, take: () => void, leave: () => void) {
  const control = event.ctrlKey || event.metaKey;
  if (control && event.key === ".") return; // stops the machine, wherever the hands are
  event.stopPropagation();
  const letter = event.key.toLowerCase();
  if (control && typed.now() === null && (letter === "z" || letter === "y")) {
    event.preventDefault();
    void (letter === "y" || event.shiftKey ? redo() : undo());
    return;
  }
  const to = control || event.altKey ? null : neighbour(event.currentTarget, event.key, event.shiftKey);
  if (to) {
    event.preventDefault();
    if (document.activeElement === event.currentTarget)
      to.focus(); // what was typed is taken as the field is left
    else take();
  } else if (event.key === "Enter") {
    event.preventDefault(); // the number is taken; the form that it may stand in is not sent by it
    take();
  } else if (event.key === "Escape") {
    typed.type(null);
    leave();
    event.currentTarget.blur();
  }
}
