/** A length that is asked for on the way to something else, and is not a quantity of the document. */
import { useId, useState } from "react";
import { unitOf } from "../quantity/format";
import { QuantityInput } from "./quantity-input";
import { useUnit } from "./rows";

interface Props {
  label: string;
  value: number;
  onValue: (value: number) => void;
  /** empty until something is typed: there is no value yet */
  blank?: boolean;
  autoFocus?: boolean;
}

export function Amount({ label, value, onValue, blank, autoFocus }: Props) {
  const id = useId();
  const unit = useUnit();
  const [wrong, setWrong] = useState("");
  return (
    <span className="flex items-center gap-2 text-[14.5px]">
      <label htmlFor={id} className="text-ink-2">
        {label}
      </label>
      <span className="w-24">
        <QuantityInput
          id={id}
          label={label}
          blank={blank}
          autoFocus={autoFocus}
          value={value}
          kind="length"
          unit={unit}
          onCommit={async (next) => {
            onValue(next);
            return [];
          }}
          onSays={(says) => setWrong(says?.wrong ? says.text : "")}
        />
      </span>
      <span className="text-ink-3">{unitOf("length", unit)}</span>
      {wrong && <span className="text-stop">{wrong}</span>}
    </span>
  );
}
