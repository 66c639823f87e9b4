/** The input of a setter or probe: one that a touch makes, or a new one. */
import { useId, useState } from "react";
import { described } from "../fields/rows";
import { may } from "../session/session";
import { useSetup } from "../work/document";
import { addToSetup, edit } from "../work/editing";
import { read } from "../work/pointer";
import { useVocabulary } from "../work/vocabulary";
import { touchInputs } from "./add-device";

const NEW = "new";

/** `base`: JSON pointer of the setter or probe. */
export function InputRow({ base }: { base: string }) {
  const id = useId();
  const value = useSetup((setup) => read(setup, `${base}/input`)) as number;
  const inputs = useSetup((setup) => setup?.inputs) ?? [];
  const fit = touchInputs(
    inputs,
    useVocabulary((words) => words.touch_roles),
  );
  const [says, setSays] = useState({ text: "", wrong: false });
  const choose = async (chosen: string) => {
    if (chosen !== NEW) return setSays({ text: described(await edit(`${base}/input`, Number(chosen))), wrong: true });
    const found = await addToSetup({ what: "touch-input", body: { where: base } });
    setSays(
      found.faults.length
        ? { text: described(found.faults), wrong: true }
        : { text: found.says.join(" "), wrong: false },
    );
  };
  const other = inputs.find((entry) => entry.number === value && !fit.includes(entry));
  return (
    <>
      <div className="row" style={{ gridTemplateColumns: "1fr 142px" }} data-quantity={`${base}/input`}>
        <label htmlFor={id}>Its input</label>
        <select
          id={id}
          className={`choice ${other ? "text-stop!" : ""}`}
          value={value}
          disabled={!may("technician")}
          onChange={(event) => void choose(event.currentTarget.value)}
        >
          {other && (
            <option value={other.number} disabled>
              {other.number} {other.name}: no touch makes it
            </option>
          )}
          {fit.map((entry) => (
            <option key={entry.number} value={entry.number}>
              {entry.number} {entry.name}
            </option>
          ))}
          <option value={NEW}>a new input …</option>
        </select>
      </div>
      {says.text && (
        <p role={says.wrong ? "alert" : "status"} className={`says ${says.wrong ? "wrong" : "understood"}`}>
          {says.text}
        </p>
      )}
    </>
  );
}
