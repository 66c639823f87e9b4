/** The first approach of a pocket in steps: as text, or run at the practice machine; what was seen is noted. */
import { client, type Rack } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { useLive } from "../../live/live";
import { save } from "../../program/save";
import { TextButton } from "../../program/text-button";
import { may } from "../../session/session";
import { useMachine, useSetup } from "../../work/document";
import { edit } from "../../work/editing";

const OUTCOMES = ["free", "rubs", "meets something"] as const;

export function Approach({ rack, pocket }: { rack: Rack; pocket: number }) {
  const document = useSetup();
  const practice = useMachine((machine) => machine?.agent === "");
  const { data: texts, trouble } = useAnswer(document && ["approach", nameOf(document), pocket], () =>
    client.POST("/api/approach", { body: { document: document ?? {}, pocket } }),
  );
  return (
    <section aria-label="Approach" className="mt-3 border-t border-rule pt-2">
      <b className="font-semibold">Approach pocket {pocket} in steps</b>
      <span className="text-[14px] text-ink-2">, the spindle empty</span>
      {trouble && <p className="text-stop">{trouble}</p>}
      {texts?.map(({ name, text }) => {
        const step = name.split(": ")[1] ?? name;
        return (
          <div key={name} className="flex items-center gap-3 py-0.5">
            <span className="flex-1">{step}</span>
            <TextButton className="link" onClick={() => save(`${step.replaceAll(" ", "-")}.nc`, text)}>
              Text
            </TextButton>
            {practice && may("technician") && (
              <TextButton
                className="link"
                aria-label={`Run: ${step}`}
                onClick={() => void useLive.getState().send({ do: "run", text, from_tool: 0, to_tool: 0 })}
              >
                Run it
              </TextButton>
            )}
          </div>
        );
      })}
      <WhatWasSeen rack={rack} pocket={pocket} />
    </section>
  );
}

function WhatWasSeen({ rack, pocket }: { rack: Rack; pocket: number }) {
  const noted = rack.approached.find((entry) => entry.pocket === pocket);
  const note = (outcome: (typeof OUTCOMES)[number]) =>
    void edit("/changer/rack/approached", (before: Rack["approached"]) => [
      ...before.filter((entry) => entry.pocket !== pocket),
      { pocket, outcome, note: "" },
    ]);
  return (
    <>
      <div className="mt-1 flex items-center gap-2 text-[14px]">
        <span className="text-ink-2">what was seen:</span>
        {OUTCOMES.map((outcome) => (
          <button
            key={outcome}
            type="button"
            className={`button plain min-h-8! px-2.5! ${noted?.outcome === outcome ? "border-ink! font-semibold" : ""}`}
            aria-pressed={noted?.outcome === outcome}
            disabled={!may("technician")}
            onClick={() => note(outcome)}
          >
            {outcome}
          </button>
        ))}
      </div>
      {rack.approached.length > 0 && (
        <p className="pt-1 text-[13.5px] text-ink-2">
          approached: {rack.approached.map((entry) => `${entry.pocket} ${entry.outcome}`).join(", ")}
        </p>
      )}
    </>
  );
}
