/** What a routine needs before it is begun, how long it takes, and a part for it at the practice machine. */
import { Check, CircleHelp, TriangleAlert } from "lucide-react";
import { useState } from "react";
import type { Probing } from "../api/client";
import { useLive } from "../live/live";
import { TextButton } from "../program/text-button";
import { fixed } from "../quantity/format";
import { KINDS } from "../routines";
import { may } from "../session/session";
import { useMachine, useSetup, useTrace } from "../work/document";

import { InTheAir } from "./air";
import { useRoutine } from "./which-routine";

type Need = Probing["needs"][number];

export function Before() {
  const { answer } = useRoutine();
  const seconds = useTrace()?.seconds;
  if (!answer) return null;
  const kind = answer.routines.find((entry) => entry.name === answer.routine)?.kind;
  return (
    <section className="border-b border-rule px-3.5 pt-2.5 pb-3" aria-label="Before it is begun">
      <b className="font-semibold">{answer.routine}</b>
      <p className="text-[13.5px] text-ink-3">
        {KINDS.find((entry) => entry.kind === kind)?.says}
        {seconds !== undefined && seconds > 0 && ` It takes ${fixed(seconds, 1)} s.`}
      </p>
      {answer.why && (
        <p role="alert" className="mt-1 text-[14.5px] text-stop">
          {answer.why}
        </p>
      )}
      <ul className="mt-1.5 grid gap-1 text-[14px]" aria-label="What it needs">
        {answer.needs.map((need) => (
          <li key={need.what} className="grid grid-cols-[20px_1fr] gap-1.5" data-need={need.what}>
            <Seen need={need} />
          </li>
        ))}
      </ul>
      <Practise />
    </section>
  );
}

/** What a need comes to: as the core knows it, or as the machine reports it now. */
function Seen({ need }: { need: Need }) {
  const met = useMet(need);
  return (
    <>
      <Mark met={met} />
      <span className={met === false ? "text-warn" : "text-ink-2"}>{need.says}</span>
    </>
  );
}

/** Homed, tested, the tool, the work offset: what the machine and its tests report; null where they don't. */
function useMet(need: Need): boolean | null {
  const { answer, routine } = useRoutine();
  const reported = useLive((live) => live.reported);
  const tests = useMachine((machine) => machine?.tests) ?? [];
  const probes = useSetup((setup) => setup?.probes) ?? [];
  if (need.met !== null) return need.met;
  const input = probes.find((entry) => entry.name === routine?.probe)?.input;
  const test = tests.find((entry) => entry.number === input);
  switch (need.what) {
    case "input tested":
      return input === undefined ? null : test?.outcome === "passed" && !test.stale;
    case "homed":
      return reported?.homed ?? null;
    case "probe in the spindle":
      return reported ? reported.tool === answer?.from_tool : null;
    case "work offset active":
      return reported?.offset ? reported.offset === routine?.work_offset : null;
    default:
      return null;
  }
}

function Mark({ met }: { met: boolean | null }) {
  if (met === null) return <CircleHelp size={16} className="mt-0.5 text-ink-3" aria-label="Look at the machine" />;
  return met ? (
    <Check size={16} className="mt-0.5 text-proven" aria-label="So it is" />
  ) : (
    <TriangleAlert size={16} className="mt-0.5 text-warn" aria-label="Not yet" />
  );
}

/** At the practice machine: a part that someone has put down, and the probe in the spindle. */
function Practise() {
  const practice = useMachine((machine) => machine?.agent === "");
  const { answer } = useRoutine();
  const document = useSetup();
  const [said, setSaid] = useState("");
  if (!practice || !answer?.routine || !may("technician")) return null;
  const { send } = useLive.getState();
  const artefact = answer.routines.some((entry) => entry.name === answer.routine && entry.qualifies);
  const put = async () => {
    setSaid("");
    const answered = await send({ do: "put down", routine: answer.routine, document });
    const tool = answered.refused ? {} : await send({ do: "tool", number: answer.from_tool });
    setSaid(
      answered.refused ??
        tool.refused ??
        `${artefact ? "It stands there" : "A part lies there"}, and T${answer.from_tool} is in the spindle.`,
    );
  };
  if (!answer.from_tool) return null;
  return (
    <div className="mt-2">
      <TextButton className="button plain min-h-9! w-full py-1! whitespace-normal!" onClick={() => void put()}>
        {artefact ? "Set it up at the practice machine" : "Put a part down at the practice machine"}
      </TextButton>
      {said && (
        <span role="status" className="mt-1 block text-[13.5px] text-ink-2">
          {said}
        </span>
      )}
      {!artefact && <InTheAir key={answer.routine} />}
    </div>
  );
}
