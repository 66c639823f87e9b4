/** What of a stage nobody has entered yet: how many numbers, the next of them, and taking them as they are. */
import { useLocation } from "react-router";
import { may } from "../session/session";
import { setupNow, useDocument, useMachine, useSetup } from "../work/document";
import { edit } from "../work/editing";
import { place } from "../work/naming";
import { located } from "../work/pointer";
import { setFocus } from "../work/selection";
import { useVocabulary } from "../work/vocabulary";

/** The keys of the stage's numbers that are still planned; none while an earlier revision is looked at. */
function useNotEntered(): string[] {
  const stage = useLocation().pathname.split("/")[3];
  const planned = useSetup((setup) => setup?.planned);
  const looking = useDocument((work) => work.looking);
  const marks = useMachine((machine) => machine?.stages);
  if (looking || !planned?.length) return [];
  const of = marks?.find((mark) => mark.name.toLowerCase() === stage)?.planned ?? [];
  return of.filter((key) => planned.some((entry) => entry.where === key));
}

export function NotEntered() {
  const keys = useNotEntered();
  const first = keys[0];
  if (first === undefined) return null;
  const show = () => {
    const pointer = located(setupNow(), first, useVocabulary.getState().keys);
    if (!pointer) return;
    setFocus(pointer);
    document.querySelector<HTMLElement>(`input[data-pointer=${JSON.stringify(pointer)}]`)?.focus();
  };
  const takeAll = () =>
    void edit("/planned", (before: unknown) =>
      (before as { where: string }[]).filter((entry) => !keys.includes(entry.where)),
    );
  return (
    <div className="no-print flex items-center gap-4 border-b border-rule bg-warn-wash px-4 text-[14.5px]">
      <span className="flex-1">
        {keys.length === 1 ? "1 number here has" : `${keys.length} numbers here have`} not been entered yet (dotted
        underline). {keys.length === 1 ? "It is" : "The first is"} {place(first)}.
      </span>
      <button type="button" className="link min-h-10" onClick={show}>
        {keys.length === 1 ? "Show it" : "Show the first"}
      </button>
      {may("technician") && (
        <button type="button" className="link min-h-10" onClick={takeAll}>
          {keys.length === 1 ? "It is right" : "All are right"}
        </button>
      )}
    </div>
  );
}
