/** The text field of a quantity: takes units and arithmetic, shows what the server understood, says what is wrong. */
import { useEffect, useRef, useState } from "react";
import type { Fault, Kind } from "../api/client";
import { type MachineUnit, shown, unitOf } from "../quantity/format";
import { setupNow, useDocument } from "../work/document";
import { drop, edit, entering, keep } from "../work/editing";
import { isPlanned } from "../work/planned";
import { keyed, read } from "../work/pointer";
import { NO_CONNECTION } from "../work/unsent";
import { useVocabulary } from "../work/vocabulary";
import { useIsPlanned } from "./not-entered";
import { fieldKeys, useTyped } from "./typed";
import { understand } from "./understand";

interface Props {
  id?: string;
  label: string;
  value: number;
  kind: Kind;
  unit: MachineUnit;
  /** the quantity of the document that it is: what can't be sent is kept for it, wherever one goes */
  pointer?: string;
  readOnly?: boolean;
  autoFocus?: boolean;
  /** begin empty, so that what is asked for a second time can't be left as it stands */
  blank?: boolean;
  /** with the usual decimals only: what was worked out has no more to it */
  rounded?: boolean;
  className?: string;
  onCommit: (value: number) => Promise<Fault[]>;
  onSays: (says: { text: string; wrong: boolean } | null) => void;
  onFocus?: () => void;
  onDone?: () => void;
  onForget?: () => void;
}

/** What is kept of the quantity because it could not be sent, reported as long as it is. */
function useDraft({ pointer, kind, unit, onSays }: Props) {
  const keys = useVocabulary((words) => words.keys);
  const draft = useDocument((work) => (pointer ? work.drafts[keyed(work.document, pointer, keys)] : undefined));
  const tell = useRef(onSays);
  tell.current = onSays;
  useEffect(() => {
    if (draft) tell.current({ text: draft.refused ?? NO_CONNECTION, wrong: true });
    return () => {
      if (draft) tell.current(null);
    };
  }, [draft]);
  const text = draft && (draft.text ?? (typeof draft.value === "number" ? shown(draft.value, kind, unit, true) : null));
  return { draft, text };
}

/** A number that was entered as it stood there changes nothing, but is entered now. */
async function confirmed(pointer: string, value: number) {
  const document = setupNow();
  if (isPlanned(document, pointer) && read(document, pointer) === value) await edit(pointer, value);
}

/** A quantity while it is typed: what the server understands, what is wrong, and taking it. */
function useEntry(props: Props) {
  const { kind, unit, onSays, pointer } = props;
  const typed = useTyped();
  const [wrong, setWrong] = useState(false);
  const latest = useRef(0);

  async function type(next: string) {
    typed.type(next);
    setWrong(false);
    const number = ++latest.current;
    const found = await understand(next, kind, unit).catch(() => null);
    if (number !== latest.current || !found) return;
    if (found.value === null) onSays({ text: found.what, wrong: true });
    else if (/[^\d.−-]/.test(next))
      onSays({ text: `understood: ${shown(found.value, kind, unit, true)} ${unitOf(kind, unit)}`, wrong: false });
    else onSays(null);
  }

  async function commit(): Promise<boolean> {
    const text = typed.now();
    return text === null || entering(take(text));
  }

  async function take(text: string): Promise<boolean> {
    latest.current++;
    try {
      const found = await understand(text, kind, unit);
      const faults = found.value === null ? [{ where: "", what: found.what }] : await props.onCommit(found.value);
      if (faults.length) {
        setWrong(true);
        onSays({ text: faults.map((fault) => fault.what).join(" "), wrong: true });
        return false;
      }
      if (pointer && found.value !== null) await confirmed(pointer, found.value);
    } catch (failed) {
      if (pointer) keep(pointer, { text, kind, unit });
      onSays({ text: failed instanceof Error ? failed.message : NO_CONNECTION, wrong: true });
      return false;
    }
    if (typed.now() === text) typed.type(null);
    if (pointer) drop(pointer);
    setWrong(false);
    onSays(null);
    return true;
  }

  function forget() {
    latest.current++;
    if (pointer) drop(pointer);
    setWrong(false);
    onSays(null);
  }

  return { typed, wrong, type, commit, forget };
}

export function QuantityInput(props: Props) {
  const { value, kind, unit } = props;
  const { draft, text: kept } = useDraft(props);
  const { typed, wrong, type, commit, forget } = useEntry(props);
  const element = useRef<HTMLInputElement>(null);
  const planned = useIsPlanned(props.pointer);

  useEffect(() => {
    if (props.autoFocus) element.current?.select();
  }, [props.autoFocus]);

  return (
    <input
      ref={element}
      id={props.id}
      data-pointer={props.pointer}
      aria-label={props.label}
      aria-invalid={wrong || !!draft}
      aria-description={planned ? "not entered yet" : undefined}
      className={`field ${wrong || draft ? "wrong" : planned ? "planned" : ""} ${props.className ?? ""}`}
      inputMode="decimal"
      autoComplete="off"
      spellCheck={false}
      readOnly={props.readOnly}
      value={typed.text ?? kept ?? (props.blank ? "" : shown(value, kind, unit, !props.rounded))}
      onFocus={(event) => {
        event.currentTarget.select();
        props.onFocus?.();
      }}
      onChange={(event) => void type(event.currentTarget.value)}
      onBlur={() => void commit().then((fine) => fine && props.onDone?.())}
      onKeyDown={(event) => {
        const field = event.currentTarget;
        fieldKeys(
          event,
          typed,
          () =>
            void commit().then((fine) => {
              if (!fine) return;
              requestAnimationFrame(() => document.activeElement === field && field.select());
              props.onDone?.();
            }),
          () => {
            forget();
            props.onForget?.();
            props.onDone?.();
          },
        );
      }}
    />
  );
}
