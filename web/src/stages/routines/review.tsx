/** The review of a program of the technician's own on the part of a routine. */
import { useMemo, useState } from "react";
import { client, type Finding, type TextFix } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { ImportProgram } from "../../program/import-program";
import { Reviewed } from "../../program/reviewed";
import { secondsByLine } from "../../program/seconds";
import { useRoutine } from "../../touching/which-routine";
import { playImported } from "../../work/choosing";
import { useSetup, useTrace } from "../../work/document";
import { goTo, useLine } from "../../work/playback";
import { useSelection } from "../../work/selection";

export function Review() {
  const imported = useSelection((work) => work.imported);
  const { answer } = useRoutine();
  if (!imported)
    return (
      <div className="bg-sheet p-6">
        <h2 className="text-[17px] font-semibold">Review a program of your own</h2>
        <p className="max-w-[64ch] text-[14.5px] text-ink-2">
          A macro or routine that does what {answer?.routine || "a routine"} does: it is run on the part as expected and
          reviewed with all checks. What is found stands in its text. Any other program is reviewed on the Proof stage.
        </p>
        <ImportProgram label="Open a file" paste onImport={(own) => void playImported(own)} />
      </div>
    );
  return <Opened key={imported.file} file={imported.file} text={imported.text} />;
}

const NONE: Finding[] = [];

function Opened({ file, text }: { file: string; text: string }) {
  const { answer } = useRoutine();
  const [first] = useState(text);
  const trace = useTrace();
  const line = useLine();
  const seconds = useMemo(() => secondsByLine(trace), [trace]);
  const findings = answer?.findings ?? NONE;
  return (
    <Reviewed
      file={file}
      text={text}
      first={first}
      findings={findings}
      fixes={useFixes(answer?.routine ?? "", text, findings)}
      line={line}
      seconds={seconds}
      written={answer?.written ?? ""}
      onRun={(changed) => void playImported({ file, text: changed })}
      onClose={() => void playImported(null)}
      onChoose={goTo}
    />
  );
}

const NO_FIXES: TextFix[] = [];

function useFixes(routine: string, text: string, findings: Finding[]): TextFix[] {
  const document = useSetup();
  const { data } = useAnswer<TextFix[]>(findings.length ? ["fixes", routine, text, nameOf(document)] : null, () =>
    client.POST("/api/routines/fixes", { body: { document: document ?? {}, routine, program: text } }),
  );
  return (findings.length && data) || NO_FIXES;
}
