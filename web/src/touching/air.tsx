/** First in the air: the routine runs where no part lies, and each touch is made with a finger at the tip. */
import { useEffect, useRef, useState } from "react";
import { useLive } from "../live/live";
import { useSetup } from "../work/document";
import { useRoutine } from "./which-routine";

/** The routine that is chosen, run in the air: beginning it, touching the tip, and how far it is. */
function useAir() {
  const { answer } = useRoutine();
  const document = useSetup();
  const probe = document?.probes.find((entry) => entry.tool === answer?.from_tool);
  const reported = useLive((live) => live.reported);
  const [begun, setBegun] = useState(false);
  const [made, setMade] = useState(0);
  const [says, setSays] = useState("");
  const speed = useRef(""); // of the machine's time before, to be put back when it has run
  const running = begun && (reported?.execution === "ACTIVE" || reported?.execution === "PROGRAM_STOPPED");
  const ran = useRef(false);
  useEffect(() => {
    if (running) ran.current = true;
    else if (ran.current) {
      ran.current = false;
      void useLive.getState().send({ do: "speed", speed: speed.current });
    }
  }, [running]);
  const text = answer?.texts.find((entry) => entry.profile === answer.shown)?.text;
  const ready = answer?.works_out && text && probe ? { answer, text, probe } : null;
  const { send } = useLive.getState();
  const begin = async () => {
    if (!ready) return;
    setMade(0);
    setSays("");
    speed.current = useLive.getState().hands?.speed ?? "real time";
    const { from_tool, to_tool, run_of } = ready.answer;
    for (const command of [
      { do: "put down", routine: null, document },
      { do: "speed", speed: "real time" },
      { do: "tool", number: from_tool },
      { do: "run", text: ready.text, from_tool, to_tool, of: run_of },
    ]) {
      const { refused } = await send(command);
      if (refused) {
        setSays(refused);
        return;
      }
    }
    setBegun(true);
  };
  const touch = async () => {
    const { refused } = await send({ do: "tap", input: ready?.probe.input });
    setSays(refused ?? "");
    if (!refused) setMade(made + 1);
  };
  return { ready, running, begun, made, says, reported, begin, touch };
}

export function InTheAir() {
  const { ready, running, begun, made, says, reported, begin, touch } = useAir();
  if (!ready) return null;
  const wanted = 2 * ready.answer.aims.length * ready.probe.touches;
  return (
    <div className="mt-2">
      {running ? (
        <section aria-label="In the air" className="border border-now px-2.5 py-2 text-[14px]">
          <p className="font-mono text-[13.5px]" aria-live="polite">
            {reported?.block}
          </p>
          <p className="text-ink-2">
            No part lies there. Touch the tip while it searches or measures: {made} of about {wanted} touches made.
          </p>
          <button type="button" className="button first mt-1 min-h-12! w-full" onClick={() => void touch()}>
            Touch the tip
          </button>
        </section>
      ) : (
        <button
          type="button"
          className="button plain min-h-9! w-full py-1! whitespace-normal!"
          onClick={() => void begin()}
        >
          First in the air, touches by hand
        </button>
      )}
      {says && (
        <p role="alert" className="mt-1 text-[13.5px] text-stop">
          {says}
        </p>
      )}
      {begun && !running && reported?.message && (
        <p role="status" className="mt-1 text-[13.5px] text-ink-2">
          {reported.message}
        </p>
      )}
    </div>
  );
}
