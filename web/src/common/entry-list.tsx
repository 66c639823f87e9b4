/** The entries of a list in a schedule: one is looked at, each can be taken out. */
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { may } from "../session/session";
import { handOver } from "./hand-over";

interface Entry {
  name: string;
  /** what is said at its right */
  note: string;
}

interface Props {
  title: string;
  entries: Entry[];
  chosen: string | undefined;
  /** many: the list scrolls by itself, so that what is below stays near */
  long?: boolean;
  onChoose: (name: string) => void;
  onRemove: (name: string) => void;
}

export function EntryList({ title, entries, chosen, long, onChoose, onRemove }: Props) {
  const [leaving, setLeaving] = useState("");
  return (
    <>
      <div className="group-title">
        {title} <small>{entries.length || "none"}</small>
      </div>
      <ul aria-label={title} className={long ? "max-h-[244px] overflow-y-auto" : ""}>
        {entries.map(({ name, note }) => (
          <li key={name} className="flex flex-wrap items-center">
            <button
              type="button"
              className={`flex min-h-10 flex-1 items-center px-4 text-left ${name === chosen ? "bg-now-wash shadow-[inset_3px_0_var(--now)]" : ""}`}
              aria-pressed={name === chosen}
              onClick={(event) => {
                onChoose(name);
                if (event.detail > 0) handOver(); // by the pointer: the keys are the score's
              }}
            >
              <span className="flex-1">{name}</span>
              <span className="text-[13.5px] text-ink-3">{note}</span>
            </button>
            {may("technician") && (
              <button
                type="button"
                className="button plain border-0! px-2!"
                aria-label={`Remove ${name}`}
                aria-expanded={leaving === name}
                onClick={() => setLeaving(leaving === name ? "" : name)}
              >
                <Trash2 size={15} />
              </button>
            )}
            {leaving === name && (
              <Sure
                name={name}
                onNo={() => setLeaving("")}
                onYes={() => {
                  setLeaving("");
                  onRemove(name);
                }}
              />
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

/** Asked before something is taken out that took work to enter; Escape keeps it. */
function Sure({ name, onYes, onNo }: { name: string; onYes: () => void; onNo: () => void }) {
  return (
    <div className="flex w-full flex-wrap items-center gap-2 border-y border-rule bg-sheet/60 px-4 py-1.5 text-[14.5px]">
      <span className="flex-1">Remove {name}?</span>
      <button
        type="button"
        className="button plain min-h-10!"
        // biome-ignore lint/a11y/noAutofocus: it was asked for just now, and Enter answers it
        autoFocus
        onClick={onYes}
        onKeyDown={(event) => event.key === "Escape" && onNo()}
      >
        Remove it
      </button>
      <button type="button" className="button plain min-h-10!" onClick={onNo}>
        Keep it
      </button>
    </div>
  );
}
