/** The entry card: what the control must be given, in the order of its keying, and what it then shows. */
import { Printer } from "lucide-react";
import { useState } from "react";
import type { CardEntry } from "../../api/client";
import { fieldKeys, useTyped } from "../../fields/typed";
import { plainNumber } from "../../fields/understand";
import { useLive } from "../../live/live";
import { when } from "../../quantity/when";
import { readingOf, takeReading, useReadings } from "../../readings/readings";
import { may } from "../../session/session";
import { useMachine, usePreview } from "../../work/document";

export function CardView() {
  const card = usePreview((answer) => answer?.machine?.card) ?? [];
  const practice = useMachine((machine) => machine?.agent === "");
  const groups = [...new Set(card.map((entry) => entry.group))];
  const refused = useLive((live) => live.refused);
  return (
    <div className="h-full overflow-auto bg-sheet p-4">
      <div className="no-print mb-2 flex items-center gap-3">
        <p className="flex-1 text-[14.5px] text-ink-2">
          Key these in from top to bottom, then read back what the control shows: a slip is shown with its likely cause.
        </p>
        {practice && may("technician") && (
          <button type="button" className="button plain" onClick={() => void useLive.getState().send({ do: "key in" })}>
            Key the limits in at the practice machine
          </button>
        )}
        <button type="button" className="button plain" onClick={() => window.print()}>
          <Printer size={15} /> Print
        </button>
      </div>
      {refused && <p className="text-stop">{refused}</p>}
      {groups.map((group) => (
        <table key={group} className="mb-4 w-full max-w-[640px]">
          <caption className="border-b-[1.5px] border-ink pb-1 text-left font-semibold">{group}</caption>
          <tbody>
            {card
              .filter((entry) => entry.group === group)
              .map((entry) => (
                <CardLine key={entry.name + entry.where} entry={entry} />
              ))}
          </tbody>
        </table>
      ))}
    </div>
  );
}

function CardLine({ entry }: { entry: CardEntry }) {
  const list = useReadings();
  const typed = useTyped();
  const [trouble, setTrouble] = useState("");
  const last = list.find((r) => r.source === "read-back" && r.pointer === entry.where && r.value === entry.value);
  const from = readingOf(list, entry.where, entry.value);
  const check = async () => {
    const text = typed.now();
    if (!text?.trim()) return;
    const value = await plainNumber(text);
    if (typeof value === "string") {
      setTrouble(value);
      return;
    }
    setTrouble(await takeReading({ quantity: entry.where, source: "read-back", value }));
    typed.type(null);
  };
  return (
    <tr className="border-b border-rule-2">
      <td className="w-32 py-1 text-ink-2">{entry.name}</td>
      <td className="w-36 text-right text-[19px] font-medium">{entry.shown.replace("-", "−")}</td>
      <td className="w-10 pl-1.5 text-[13px] text-ink-3">{entry.unit}</td>
      <td className="no-print w-40 px-3">
        {entry.where && may("technician") && (
          <input
            className="field"
            placeholder="it shows"
            aria-label={`${entry.group}, ${entry.name}: the control shows`}
            inputMode="decimal"
            value={typed.text ?? ""}
            onChange={(event) => typed.type(event.currentTarget.value)}
            onBlur={() => void check()}
            onKeyDown={(event) =>
              fieldKeys(
                event,
                typed,
                () => void check(),
                () => setTrouble(""),
              )
            }
          />
        )}
      </td>
      <td className="text-[14px]">
        {trouble ? (
          <span className="text-stop">{trouble}</span>
        ) : last ? (
          <span className={last.agrees ? "text-proven" : "font-semibold text-stop"}>
            {last.agrees
              ? `✓ read back ${when(last.taken)}`
              : `✕ ${last.raw} is not it${last.slip ? `: ${last.slip}` : ""}`}
          </span>
        ) : (
          <span className="text-ink-3">{from ? `reading of ${when(from.taken)}` : ""}</span>
        )}
      </td>
    </tr>
  );
}
