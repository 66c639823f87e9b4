/** Calibrating the plane with a reference tool: several times, their mean and what it is uncertain by; and the check of it on
 * a block of known height. */
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { client, type Tool } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { Drift } from "../../drawing/drift";
import { Amount } from "../../fields/amount";
import { described, useUnit } from "../../fields/rows";
import type { Pages, Ran } from "../../live/live";
import { usePages } from "../../live/pages";
import { shown, unitOf } from "../../quantity/format";
import { when } from "../../quantity/when";
import { takeReading } from "../../readings/readings";
import { may } from "../../session/session";
import { usePreview, useSetup, useSlug } from "../../work/document";
import { edit } from "../../work/editing";
import { BlockCheck } from "./block";
import { NO_RUNS, type Run, useRuns } from "./runs";
import { useSetter } from "./which";

export function CalibrationView() {
  const { index } = useSetter();
  const setter = useSetup((setup) => setup?.setters[index]);
  if (!setter) return null;
  return (
    <div className="grid h-full grid-cols-[minmax(380px,1fr)_minmax(320px,0.8fr)] overflow-auto bg-sheet max-[1100px]:grid-cols-1">
      <Calibrate key={setter.name} name={setter.name} />
      <div className="border-l border-rule px-5 py-4">
        <BlockCheck index={index} />
        <Drift quantity={`/setters/${index}/plane_z`} title="Plane height" />
      </div>
    </div>
  );
}

function useReference() {
  const tools = useSetup((setup) => setup?.tools) ?? [];
  const measuring = usePreview((answer) => answer?.measuring);
  const used = measuring?.sequence === "calibrate" ? measuring.tools[0] : undefined;
  const usual =
    tools.find((tool) => tool.number === used) ?? tools.find((tool) => tool.type === "reference tool") ?? tools[0];
  const [chosen, setChosen] = useState<number | null>(null);
  return { tools, tool: tools.find((entry) => entry.number === chosen) ?? usual, setChosen };
}

function Calibrate({ name }: { name: string }) {
  const { tools, tool, setChosen } = useReference();
  const [uncertain, setUncertain] = useState(0.002);
  const [growth, setGrowth] = useState(0);
  const of = `${useSlug()} ${name}`;
  const planes = useRuns((runs) => runs.planes[of]) ?? NO_RUNS;
  const setPlanes = (next: Run[]) => useRuns.getState().set(of, next);
  const document = useSetup();
  const body = {
    document: document ?? {},
    setter: name,
    tool: tool?.number ?? 0,
    reference_u: uncertain / 2,
    runs: planes.map(({ plane, homing }) => ({ plane, homing })),
    growth,
  };
  const { data, trouble } = useAnswer(
    planes.length > 1 && tool ? ["calibration", nameOf(document), name, tool.number, uncertain, growth, planes] : null,
    () => client.POST("/api/setter/calibration", { body }),
  );
  return (
    <section aria-label="Calibration" className="px-6 py-4">
      <h2 className="text-[17px] font-semibold">Calibrate the plane height</h2>
      <p className="text-[14.5px] text-ink-2">
        Choose “Calibrate the plane” on the right and run it with the reference tool in the spindle; home in between,
        and the scatter of home is in it. Take what each run gives. The feed is the setter's measuring feed: what the
        touch is late by repeats, and is in the plane.
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <select
          className="choice w-56! border border-ink! px-1 text-left!"
          aria-label="Reference tool"
          value={tool?.number ?? 0}
          onChange={(event) => setChosen(Number(event.currentTarget.value))}
        >
          {tools.map((entry) => (
            <option key={entry.number} value={entry.number}>
              T{entry.number} {entry.name}
            </option>
          ))}
        </select>
        <Amount label="its length is known to ±" value={uncertain} onValue={setUncertain} />
        <Amount label="the machine, cold, may still grow by" value={growth} onValue={setGrowth} />
      </div>
      <Runs name={name} tool={tool} planes={planes} outlier={data?.found.outlier ?? null} onPlanes={setPlanes} />
      {trouble && <p className="text-stop">{trouble}</p>}
      {data && (
        <Result
          found={data.found}
          restsOn={data.rests_on}
          reference={tool?.number ?? 0}
          cold={growth > 0}
          onUsed={() => setPlanes([])}
        />
      )}
    </section>
  );
}

interface RunsProps {
  name: string;
  tool: Tool | undefined;
  planes: Run[];
  outlier: number | null;
  onPlanes: (planes: Run[]) => void;
}

/** What each run gave: the result of a calibration of this setter with this tool at the practice machine's control, or typed twice. */
function Runs({ name, tool, planes, outlier, onPlanes }: RunsProps) {
  const unit = useUnit();
  const pages = usePages();
  const result = usePreview((answer) => answer?.measuring?.result_parameter) ?? 0;
  const add = (plane: number, ran: Ran | null) =>
    onPlanes([
      ...planes,
      { plane, tool: tool?.number ?? 0, homing: ran?.homing ?? null, at: ran?.at ?? new Date().toISOString() },
    ]);
  const ran = pages?.ran;
  const why = ran ? notOfThis(ran, name, tool, result) : "";
  const said = pages?.parameters[result];
  const taken = planes.some((run) => run.at === ran?.at);
  return (
    <>
      <div className="mt-3 flex flex-wrap items-center gap-3">
        {ran && !why && said !== undefined && (
          <button
            type="button"
            className="button first"
            disabled={!may("technician") || taken}
            title={taken ? "It is taken already: run it again for the next" : undefined}
            onClick={() => add(said, ran)}
          >
            Take {shown(said, "length", unit)} from the control
          </button>
        )}
        {may("technician") && <TypedRun onRun={(plane) => add(plane, null)} />}
      </div>
      {why && (
        <p className="mt-1 text-[14.5px] text-ink-2" role="status">
          {why}
        </p>
      )}
      <ol className="mt-2 flex flex-wrap gap-x-4 gap-y-1" aria-label="Calibrations">
        {planes.map((run, at) => (
          <li
            // biome-ignore lint/suspicious/noArrayIndexKey: runs are known by their order
            key={at}
            className={`flex items-center gap-1 ${at === outlier ? "font-semibold text-stop" : ""}`}
            data-run={at}
          >
            {at + 1}: {shown(run.plane, "length", unit)}
            <span className="text-[13px] text-ink-3">
              T{run.tool}, {when(run.at)}
            </span>
            {at === outlier && " stands out"}
            <button
              type="button"
              className="button plain min-h-8! border-0! px-1!"
              aria-label={`Leave run ${at + 1} out`}
              onClick={() => onPlanes(planes.filter((_, other) => other !== at))}
            >
              <Trash2 size={14} />
            </button>
          </li>
        ))}
      </ol>
      {planes.length === 0 && <p className="text-[14.5px] text-ink-3">No run yet; two at least, five are better.</p>}
    </>
  );
}

/** Why the control's last result is no plane height of this setter with this tool; "": it is one. */
function notOfThis(ran: NonNullable<Pages["ran"]>, name: string, tool: Tool | undefined, result: number): string {
  const { sequence, tools = [], setter } = ran.of;
  const of = sequence
    ? `“${sequence}” of ${tools.map((number) => `T${number}`).join(", ")} at ${setter}`
    : "another program";
  if (sequence !== "calibrate" || setter !== name || tools[0] !== tool?.number)
    return `The control's last result is of ${of}: run “calibrate” with T${tool?.number ?? "…"} at ${name}.`;
  return ran.wrote.includes(result) ? "" : "The control's last calibration ended without a result; run it again.";
}

/** A plane height that was read off a control: typed twice, since every length rests on it. */
function TypedRun({ onRun }: { onRun: (plane: number) => void }) {
  const unit = useUnit();
  const [first, setFirst] = useState<number | null>(null);
  const [trouble, setTrouble] = useState("");
  const second = (value: number) => {
    const same = first !== null && Math.abs(value - first) < 1e-9;
    setTrouble(
      same
        ? ""
        : `The two differ: ${shown(first ?? 0, "length", unit, true)} and ${shown(value, "length", unit, true)}.`,
    );
    if (same) onRun(first);
    setFirst(null);
  };
  return (
    <span className="flex flex-wrap items-center gap-2">
      {first === null ? (
        <Amount key="first" blank label="or type it" value={0} onValue={setFirst} />
      ) : (
        <Amount key="second" blank autoFocus label="again, as you read it" value={0} onValue={second} />
      )}
      {trouble && (
        <span role="alert" className="text-stop">
          {trouble}
        </span>
      )}
    </span>
  );
}

type Answered = NonNullable<Awaited<ReturnType<typeof asked>>["data"]>;
const asked = () => client.POST("/api/setter/calibration", { body: {} as never });

type Found = Answered["found"];

interface ResultProps {
  found: Found;
  restsOn: Answered["rests_on"];
  /** the tool that it was calibrated with */
  reference: number;
  /** the machine was */
  cold: boolean;
  onUsed: () => void;
}

function Result({ found, restsOn, reference, cold, onUsed }: ResultProps) {
  const { index } = useSetter();
  const setter = useSetup((setup) => setup?.setters[index]);
  const now = setter?.plane_z;
  const unit = useUnit();
  const [trouble, setTrouble] = useState("");
  const mm = (value: number) => `${shown(value, "length", unit)} ${unitOf("length", unit)}`;
  const use = async () => {
    const base = `/setters/${index}`;
    const quantity = `${base}/plane_z`;
    const feed = setter?.measure_feed ?? 0;
    const how = `with T${reference}, ${found.touches} runs at ${shown(feed, "feed", unit)} ${unitOf("feed", unit)}, ± ${mm(found.half_width_95)}, ${cold ? "cold" : "warm"}`;
    const said = await takeReading({
      quantity,
      source: "typed",
      value: found.value,
      how,
      rests_on: restsOn,
      half_width_95: found.half_width_95,
    });
    const faults =
      said ||
      described(await edit(`${base}/plane_z`, found.value)) ||
      described(await edit(`${base}/plane_feed`, setter?.measure_feed ?? null));
    setTrouble(faults);
    if (!faults) onUsed();
  };
  return (
    <div className="mt-3 border-t border-ink pt-2" data-plane={found.value}>
      <p className="text-[17px]">
        plane height <b className="font-semibold">{mm(found.value)}</b> ± {mm(found.half_width_95)}
      </p>
      <p className="text-[14.5px] text-ink-2">
        at 95 %; {found.touches} runs, {mm(found.spread)} apart; it was {mm(now ?? 0)}
      </p>
      <Shares shares={found.shares} />
      {found.refused && (
        <p role="alert" className="mt-1 text-stop">
          {found.refused}
        </p>
      )}
      <button
        type="button"
        className="button first mt-2"
        disabled={!may("technician") || !!found.refused}
        onClick={() => void use()}
      >
        Use it as the plane height
      </button>
      {trouble && (
        <p role="alert" className="text-stop">
          {trouble}
        </p>
      )}
    </div>
  );
}

/** The shares of an uncertainty's variance, as bars. */
function Shares({ shares }: { shares: Found["shares"] }) {
  return (
    <ul className="mt-1.5 grid gap-1" aria-label="Shares of the uncertainty">
      {shares.map((share) => (
        <li key={share.name} className="grid grid-cols-[190px_1fr_48px] items-center gap-2 text-[14.5px]">
          <span className="text-ink-2">{share.name}</span>
          <span
            className="h-3 border border-ink-3"
            style={{ width: `${Math.max(0.5, share.share * 100)}%`, background: "var(--steel-2)" }}
          />
          <span className="text-right">{Math.round(share.share * 100)} %</span>
        </li>
      ))}
    </ul>
  );
}
