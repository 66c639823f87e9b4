/** Suggested fixes that were tried: each is taken alone, and the text is run again. */
import type { Mend } from "../api/client";
import { may } from "../shell/session";

interface Props {
  mends: Mend[];
  text: string;
  onTake: (text: string) => void;
}

/** The text with a mended line in it. */
export function withMend(text: string, { change }: Mend): string {
  const lines = text.split("\n");
  return [...lines.slice(0, change.line - 1), ...change.lines, ...lines.slice(change.line - 1 + change.goes)].join(
    "\n",
  );
}

export function Mends({ mends, text, onTake }: Props) {
  if (!mends.length) return null;
  return (
    <ul aria-label="Suggested fixes" className="max-h-40 overflow-auto border-b border-rule-2 bg-panel px-3 py-1">
      {mends.map((mend) => (
        <li key={mend.message} className="flex items-start gap-3 border-b border-rule-2 py-1 text-[14px]">
          <div className="min-w-0 flex-1">
            <p className="truncate text-ink-2" title={mend.message}>
              {mend.message}
            </p>
            <p className="font-mono text-[13.5px]">
              <span className="mr-2 text-ink-3">line {mend.change.line}</span>
              {mend.before && <del className="mr-3 text-stop">{mend.before}</del>}
              <ins>{mend.change.lines.join(" ")}</ins>
            </p>
          </div>
          {may("technician") && (
            <button
              type="button"
              className="button plain min-h-10! px-2!"
              aria-label={`Apply the fix to line ${mend.change.line}`}
              onClick={() => onTake(withMend(text, mend))}
            >
              Take it
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
