/** One input: its wiring drawn, what the control sees in each state, and its test with the bounce of its contact. */
import { useState } from "react";
import { type Answer, client, type Edge, type Input, type Machine, refusal } from "../../api/client";
import { useSize } from "../../common/use-size";
import { Hands, Lamp } from "../../live/lamps";
import { type Change, useLive } from "../../live/live";
import { when } from "../../quantity/when";
import { may } from "../../session/session";
import { slugNow, useDocument, useMachine, usePreview } from "../../work/document";
import { edit } from "../../work/editing";
import { flush } from "../../work/saving";

import { Circuit } from "./circuit";
import { TestMark } from "./test-mark";

export function InputSheet({ input, index }: { input: Input; index: number }) {
  const answer = usePreview((answer) => answer?.signals?.inputs.find((entry) => entry.number === input.number));
  const states = answer?.states;
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[19px] font-semibold">{input.name}</h2>
      <div className="mt-2 grid grid-cols-[minmax(240px,1fr)_minmax(250px,1fr)] gap-6 max-[1100px]:grid-cols-1">
        <Circuit input={input} />
        {answer && states && (
          <div>
            <Seeing states={states} />
            <p className="mt-2 text-[14.5px] leading-snug" data-says>
              {states.says}
            </p>
            {(answer.read_word || answer.wait) && (
              <p className="mt-1.5 text-[14px] text-ink-2">
                Read by <code className="font-mono text-[13px]">{answer.read_word || "no word of this control"}</code>
                {answer.wait && <>; waited for in {answer.wait}</>}
              </p>
            )}
          </div>
        )}
      </div>
      <Test input={input} index={index} />
    </div>
  );
}

type InputAnswer = NonNullable<Answer["signals"]>["inputs"][number];

/** What the control sees in each state of the contact and its lead. */
function Seeing({ states }: { states: NonNullable<InputAnswer["states"]> }) {
  return (
    <table className="w-full">
      <caption className="pb-1 text-left text-[14px] text-ink-2">What the control sees</caption>
      <tbody>
        {(
          [
            ["idle", states.idle, "idle", null],
            ["made", states.made, "made", null],
            ["its lead broken", states.lead_broken, null, states.broken_noticed],
            ["its lead to ground", states.short_to_ground, null, states.short_noticed],
          ] as const
        ).map(([name, seen, wanted, noticed]) => (
          <tr key={name} className="border-t border-rule-2">
            <td className="py-1.5 text-ink-2">{name}</td>
            <td>
              <span className="inline-flex items-center gap-2">
                <Lamp made={seen === "made"} /> {seen}
              </span>
            </td>
            <td className="text-right text-[14px]">
              {wanted !== null ? (
                wanted === seen ? (
                  <span className="text-proven">✓ right</span>
                ) : (
                  <span className="font-semibold text-stop">✕ reversed</span>
                )
              ) : states.reversed ? (
                ""
              ) : noticed ? (
                <span className="text-proven">✓ noticed</span>
              ) : (
                <span className="text-warn">▲ not noticed</span>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const STEPS = ["idle", "made", "idle again"] as const;
const DO = ["Leave it alone.", "Actuate it.", "Release it."];

type Seen = "idle" | "made";

/** The steps of a test that were seen, what is seen now, and what to do with them. */
function useTest(input: Input) {
  const live = useLive((state) => state.reported?.inputs[input.name]);
  const edges = useLive((state) => state.edges);
  const [seen, setSeen] = useState<Seen[]>([]);
  const [byHand, setByHand] = useState<Seen>("idle");
  const [began, setBegan] = useState(() => Date.now());
  const [trouble, setTrouble] = useState("");
  const connected = live !== undefined;
  const now: Seen = connected ? (live ? "made" : "idle") : byHand;
  const bounce = afterFirst(edges.filter((edge) => edge.name === input.name && edge.at * 1000 >= began));
  const begin = () => {
    setSeen([]);
    setBegan(Date.now());
    setTrouble("");
  };
  const next = async () => {
    const all = [...seen, now];
    setSeen(all);
    if (all.length < 3) return;
    await flush();
    const slug = slugNow();
    const answer = await client
      .POST("/api/machines/{slug}/inputs/{number}/tests", {
        params: { path: { slug: slug ?? "", number: input.number } },
        body: { seen: all, edges: bounce.slice(0, 60), by_hand: !connected },
      })
      .catch(() => null);
    if (answer?.data) useDocument.setState({ machine: answer.data });
    setTrouble(
      answer?.data ? "" : answer ? refusal(answer.error) : "No connection to the server; the test was not kept.",
    );
    setSeen([]);
  };
  return { seen, now, connected, bounce, trouble, setTrouble, byHand, setByHand, begin, next };
}

type Testing = ReturnType<typeof useTest>;
type Outcome = Machine["tests"][number];

function Test({ input, index }: { input: Input; index: number }) {
  const test = useMachine((machine) => machine?.tests.find((found) => found.number === input.number));
  const testing = useTest(input);
  const { bounce, trouble } = testing;
  return (
    <section aria-label="Test" className="mt-5 border-t border-rule pt-3">
      <h3 className="flex items-baseline gap-3 font-semibold">
        Test <TestMark outcome={test?.outcome} stale={test?.stale} />
        {test && (
          <span className="text-[13.5px] font-normal text-ink-3">
            {when(test.when)} by {test.author}
            {test.by_hand ? ", stepped by hand" : ", seen from the machine"}
            {test.stale && `; ${test.why}`}
          </span>
        )}
      </h3>
      <Steps {...testing} />
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Next input={input} {...testing} />
        {test?.outcome === "reversed" && !test.stale && may("technician") && (
          <Invert input={input} index={index} test={test} onTrouble={testing.setTrouble} />
        )}
      </div>
      {trouble && (
        <p role="alert" className="mt-1 text-stop">
          {trouble}
        </p>
      )}
      <Bounce edges={bounce.length ? bounce : (test?.edges ?? [])} filter={input.filter} />
    </section>
  );
}

function Steps({ seen, now, connected, byHand, setByHand }: Testing) {
  const step = seen.length;
  return (
    <div className="mt-2 grid grid-cols-3 border border-rule">
      {STEPS.map((name, at) => (
        <div
          key={name}
          className={`min-h-[92px] border-r border-rule p-2.5 last:border-0 ${at === step ? "bg-now-wash" : ""}`}
          data-step={name}
        >
          <b className="font-medium">
            {at + 1}. {name}
          </b>
          <p className="text-[14px] text-ink-2">{DO[at]}</p>
          {at < step ? (
            <p className="mt-1 inline-flex items-center gap-2">
              <Lamp made={seen[at] === "made"} /> seen {seen[at]}
            </p>
          ) : at === step ? (
            <p className="mt-1 inline-flex items-center gap-2 font-medium">
              <Lamp made={now === "made"} /> {now}
              {!connected && may("technician") && (
                <button type="button" className="link" onClick={() => setByHand(byHand === "made" ? "idle" : "made")}>
                  change
                </button>
              )}
            </p>
          ) : null}
        </div>
      ))}
    </div>
  );
}

function Next({ input, seen, now, connected, begin, next }: Testing & { input: Input }) {
  const practice = useMachine((machine) => machine?.agent === "");
  return (
    <>
      {may("technician") && (
        <button type="button" className="button first" onClick={() => void next()}>
          It is {STEPS[seen.length]}: seen as {now}
        </button>
      )}
      {connected && practice && may("technician") && (
        <span className="inline-flex items-center gap-1.5 text-[14px] text-ink-2">
          your hands: <Hands number={input.number} name={input.name} />
        </span>
      )}
      {seen.length > 0 && (
        <button type="button" className="link" onClick={begin}>
          Start over
        </button>
      )}
      {!connected && (
        <span className="text-[14px] text-ink-2">The machine does not report this input; step through by hand.</span>
      )}
    </>
  );
}

interface InvertProps {
  input: Input;
  index: number;
  test: Outcome;
  onTrouble: (text: string) => void;
}

/** The fix of an input that is wired the other way round: it is taken as the test saw it. */
function Invert({ input, index, test, onTrouble }: InvertProps) {
  const practice = useMachine((machine) => machine?.agent === "");
  const { wiring, level } = test;
  const invert = async () => {
    const faults = await edit(`/inputs/${index}`, { ...input, wiring, level });
    onTrouble(faults.map((fault) => fault.what).join(" "));
    await flush();
    if (!faults.length && practice) await useLive.getState().send({ do: "key in" });
  };
  return (
    <button type="button" className="button" onClick={() => void invert()}>
      Invert its level: take it as made when {level}
      {wiring !== input.wiring && `, wired ${wiring}`}
    </button>
  );
}

/** The changes within 50 ms of the last first one, in milliseconds after it. */
function afterFirst(edges: Change[]): Edge[] {
  let first = edges.length - 1;
  if (first < 0) return [];
  while (first > 0 && (edges[first]?.at ?? 0) - (edges[first - 1]?.at ?? 0) < 0.05) first--;
  const begin = edges[first]?.at ?? 0;
  return edges.slice(first).map((edge) => ({ after: Math.round((edge.at - begin) * 1e6) / 1e3, made: edge.made }));
}

/** What the control saw when the contact was made: a small time chart, in milliseconds. */
function Bounce({ edges, filter }: { edges: Edge[]; filter: number }) {
  const { element, width } = useSize<HTMLDivElement>();
  const last = edges.at(-1)?.after ?? 0;
  const whole = Math.max(10, last * 1.4);
  const left = 76;
  const at = (ms: number) => left + ((ms + whole * 0.1) / (whole * 1.1)) * (width - left - 12);
  const level = (made: boolean) => (made ? 22 : 54);
  const before = edges.length ? !edges[0]?.made : false;
  const line = edges.map((edge) => `H${at(edge.after)}V${level(edge.made)}`).join("");
  const settled =
    edges.length > 1 ? `settled after ${last.toFixed(1)} ms, ${edges.length - 1} changes` : "one clean change";
  return (
    <div ref={element} className="mt-3">
      <p className="text-[14px] text-ink-2">
        Bounce, as the control sees it{filter > 0 ? ` through its filter of ${filter * 1000} ms` : ", without a filter"}
        {edges.length > 0 && `: ${settled}`}
      </p>
      {edges.length === 0 ? (
        <p className="text-[14px] text-ink-3">No change was seen yet.</p>
      ) : (
        width > 100 && (
          <svg width={width} height="84" role="img" aria-label={`Bounce: ${settled}`}>
            <text x="0" y="27" className="caption">
              made
            </text>
            <text x="0" y="59" className="caption">
              idle
            </text>
            <path d={`M${left} 66H${width - 12}`} className="line-thin" />
            {[0, 2, 4, 6, 8, 10, 15, 20, 30, 40]
              .filter((ms) => ms <= whole)
              .map((ms) => (
                <g key={ms}>
                  <path d={`M${at(ms)} 63v6`} className="line-thin" />
                  <text x={at(ms)} y="81" textAnchor="middle" className="caption">
                    {ms} ms
                  </text>
                </g>
              ))}
            <path
              d={`M${left} ${level(before)}${line}H${width - 12}`}
              fill="none"
              className="line-now"
              data-bounce={edges.length}
            />
          </svg>
        )
      )}
    </div>
  );
}
