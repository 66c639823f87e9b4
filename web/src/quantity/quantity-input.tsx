/** The text field of a quantity: takes units and arithmetic, shows what the server understood, says what is wrong. */
import { useEffect, useRef, useState } from "react";
import { client, type Fault, type Kind } from "../api/client";
import { useWork } from "../work/store";
import { type MachineUnit, shown, unitOf } from "./format";

interface Props {
  id?: string;
  label: string;
  value: number;
  kind: Kind;
  unit: MachineUnit;
  readOnly?: boolean;
  autoFocus?: boolean;
  className?: string;
  onCommit: (value: number) => Promise<Fault[]>;
  onSays: (says: { text: string; wrong: boolean } | null) => void;
  onFocus?: () => void;
  onDone?: () => void;
}

const NO_CONNECTION = "No connection to the server; the number stays here until there is. Press Enter again.";

async function understand(text: string, kind: Kind, unit: MachineUnit) {
  const plain = text.replaceAll("−", "-");
  const { data, response } = await client.POST("/api/quantity", { body: { text: plain, kind, unit } });
  if (response.status === 401) {
    useWork.setState({ saving: "signed-out" });
    throw new Error("Your session has ended; the number stays here. Sign in again and press Enter.");
  }
  if (!data) throw new Error("The server did not answer; the number stays here. Press Enter again.");
  return data;
}

export function QuantityInput(props: Props) {
  const { value, kind, unit, onSays } = props;
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const latest = useRef(0);
  const element = useRef<HTMLInputElement>(null);

  useEffect(() => {
    if (props.autoFocus) element.current?.select();
  }, [props.autoFocus]);

  async function typed(next: string) {
    setText(next);
    setWrong(false);
    const number = ++latest.current;
    const found = await understand(next, kind, unit).catch(() => null);
    if (number !== latest.current || !found) return;
    if (found.value === null) onSays({ text: found.what, wrong: true });
    else if (/[^\d.\s−-]/.test(next))
      onSays({ text: `understood: ${shown(found.value, kind, unit, true)} ${unitOf(kind, unit)}`, wrong: false });
    else onSays(null);
  }

  async function commit(): Promise<boolean> {
    if (text === null) return true;
    latest.current++;
    try {
      const found = await understand(text, kind, unit);
      const faults = found.value === null ? [{ where: "", what: found.what }] : await props.onCommit(found.value);
      if (faults.length) {
        setWrong(true);
        onSays({ text: faults.map((fault) => fault.what).join(" "), wrong: true });
        return false;
      }
    } catch (failed) {
      const answered = failed instanceof Error && !(failed instanceof TypeError);
      onSays({ text: answered ? failed.message : NO_CONNECTION, wrong: true });
      return false;
    }
    setText(null);
    setWrong(false);
    onSays(null);
    return true;
  }

  return (
    <input
      ref={element}
      id={props.id}
      aria-label={props.label}
      aria-invalid={wrong}
      className={`field ${wrong ? "wrong" : ""} ${props.className ?? ""}`}
      inputMode="decimal"
      autoComplete="off"
      spellCheck={false}
      readOnly={props.readOnly}
      value={text ?? shown(value, kind, unit, true)}
      onFocus={(event) => {
        event.currentTarget.select();
        props.onFocus?.();
      }}
      onChange={(event) => void typed(event.currentTarget.value)}
      onBlur={() => void commit().then((fine) => fine && props.onDone?.())}
      onKeyDown={(event) => {
        if (event.key === "Enter") {
          const field = event.currentTarget;
          void commit().then((fine) => {
            if (!fine) return;
            requestAnimationFrame(() => field.select());
            props.onDone?.();
          });
        }
        if (event.key === "Escape") {
          latest.current++;
          setText(null);
          setWrong(false);
          onSays(null);
          props.onDone?.();
          event.currentTarget.blur();
        }
        event.stopPropagation();
      }}
    />
  );
}
