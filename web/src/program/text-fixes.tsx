/** Suggested fixes that were tried: each is taken alone, and the text is run again. */
import type { TextFix } from "../api/client";
import { may } from "../session/session";

interface Props {
  fixes: TextFix[];
  text: string;
  onTake: (text: string) => void;
}

/** The text with a fixed line in it. */
export function withFix(text: string, { change }: TextFix): string {
  const lines = text.split("\n");
  return [...lines.slice(0, change.line - 1), ...change.lines, ...lines.slice(change.line - 1 + change.goes)].join(
    "\n",
  );
}

export function TextFixes({ fixes, text, onTake }: Props) {
  if (!fixes.length) return null;
  return (
    <ul aria-label="Suggested fixes" className="max-h-40 overflow-auto border-b border-rule-2 bg-panel px-3 py-1">
      {fixes.map((fix) => (
        <li key={fix.message} className="flex items-start gap-3 border-b border-rule-2 py-1 text-[14px]">
          <div className="min-w-0 flex-1">
            <p className="truncate text-ink-2" title={fix.message}>
              {fix.message}
            </p>
            <p className="font-mono text-[13.5px]">
              <span className="mr-2 text-ink-3">line {fix.change.line}</span>
              {fix.before && <del className="mr-3 text-stop">{fix.before}</del>}
              <ins>{fix.change.lines.join(" ")}</ins>
            </p>
          </div>
          {may("technician") && (
            <button
              type="button"
              className="button plain min-h-10! px-2!"
              aria-label={`Apply the fix to line ${fix.change.line}`}
              onClick={() => onTake(withFix(text, fix))}
            >
              Take it
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
