/** The fault that a sequence is played under. */

import { playWithoutFault } from "../work/choosing";
import { usePlayed } from "../work/document";
import { useFaultName, useVocabulary } from "../work/vocabulary";

/** The fault that it is played under, and the way back to the undisturbed one. */
export function UnderFault() {
  const under = usePlayed()?.under;
  const faultName = useFaultName();
  const words = useVocabulary((known) => known.verdicts);
  if (!under) return null;
  return (
    <section className="border-b border-rule bg-warn-wash px-3.5 py-2" aria-label="Fault" data-under={under.fault}>
      <b className="font-semibold">Played under a fault: {faultName(under.fault)}</b>
      <p className="text-[14.5px]">
        {words[under.verdict]}: {under.says}
      </p>
      <button type="button" className="link" onClick={() => void playWithoutFault()}>
        Play the normal run
      </button>
    </section>
  );
}
