/** A field of plain text: Enter or leaving it takes the text, Escape leaves it as it was; what is refused says why. */
import { fieldKeys, useTyped } from "./typed";

interface Props {
  id?: string;
  label?: string;
  value: string;
  readOnly?: boolean;
  placeholder?: string;
  className?: string;
  /** takes the text; what is wrong with it, or "" */
  onTake: (text: string) => Promise<string>;
  onSays: (says: string) => void;
}

export function TextInput(props: Props) {
  const typed = useTyped();
  const take = async () => {
    const text = typed.now();
    if (text === null) return;
    if (text.trim() === props.value) {
      typed.type(null);
      return;
    }
    const wrong = await props.onTake(text.trim());
    props.onSays(wrong);
    if (!wrong && typed.now() === text) typed.type(null);
  };
  return (
    <input
      id={props.id}
      aria-label={props.label}
      className={`field ${props.className ?? ""}`}
      readOnly={props.readOnly}
      placeholder={props.placeholder}
      autoComplete="off"
      spellCheck={false}
      value={typed.text ?? props.value}
      onChange={(event) => typed.type(event.currentTarget.value)}
      onBlur={() => void take()}
      onKeyDown={(event) =>
        fieldKeys(
          event,
          typed,
          () => void take(),
          () => props.onSays(""),
        )
      }
    />
  );
}
