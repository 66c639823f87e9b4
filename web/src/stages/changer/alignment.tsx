/** Where the pockets are: taught by jogging to them, fitted, with residuals magnified, and what follows for each pocket. */
import { Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import { type Alignment, type Changer, client, refusal } from "../../api/client";
import { useSize } from "../../drawing/use-size";
import { useLive } from "../../live/live";
import { save } from "../../program/save";
import { shown, unitOf } from "../../quantity/format";
import { QuantityInput } from "../../quantity/quantity-input";
import { QuantityRow, useUnit } from "../../quantity/rows";
import { readingOf, useReadings, when } from "../../readings/readings";
import { may } from "../../shell/session";
import { useWork } from "../../work/store";

type Rack = Changer["rack"];
type Fit = NonNullable<Alignment["fit"]>;

export function AlignmentView() {
  const rack = useWork((work) => work.document?.changer?.rack);
  const alignment = useWork((work) => work.answer?.derived?.alignment);
  const [pocket, setPocket] = useState(1);
  if (!rack) return null;
  return (
    <div className="h-full overflow-auto bg-sheet px-5 py-3">
      <Row rack={rack} fit={alignment?.fit ?? null} pocket={pocket} onPocket={setPocket} />
      <div className="mt-2 grid grid-cols-[minmax(340px,1fr)_minmax(260px,0.8fr)] gap-6 max-[1100px]:grid-cols-1">
        <div>
          <Teach rack={rack} pocket={pocket} onPocket={setPocket} />
          <TaughtTable rack={rack} fit={alignment?.fit ?? null} pocket={pocket} onPocket={setPocket} />
          <Approach rack={rack} pocket={pocket} />
        </div>
        <div>
          {alignment ? (
            <>
              {alignment.fit && <FitTable fit={alignment.fit} rack={rack} />}
              {alignment.says.map((line) => (
                <p key={line} className="py-1 text-[14.5px] leading-snug" data-says>
                  {line}
                </p>
              ))}
            </>
          ) : (
            <p className="text-ink-2">
              Teach two pockets or more, far apart: the row is fitted through them, with what each misses it by.
            </p>
          )}
          <QuantityRow
            label="Allowance of a pocket"
            pointer="/changer/rack/placing_tolerance"
            kind="length"
            hint="How far off its axis a nose still meets a nut: 0.2 to 0.5 mm on routers."
          />
          <Use rack={rack} fit={alignment?.fit ?? null} />
        </div>
      </div>
    </div>
  );
}

const HEIGHT = 176;

/** The row along its bearing; each taught pocket's residual magnified against its allowance. */
function Row({ rack, fit, pocket, onPocket }: Chosen & { rack: Rack; fit: Fit | null }) {
  const { element, width } = useSize<HTMLDivElement>();
  const unit = useUnit();
  const step = Math.max(20, (width - 60) / Math.max(1, rack.count));
  const radius = Math.min(34, step / 2 - 3);
  const scale = radius / rack.placing_tolerance;
  const worst = Math.max(0, ...(fit?.taught.map((entry) => entry.distance) ?? []));
  const larger = worst > 0 ? ([20, 10, 5, 2].find((times) => worst * times <= 0.85 * rack.placing_tolerance) ?? 1) : 1;
  const taught = new Map(fit?.taught.map((entry) => [entry.pocket, entry]));
  const known = new Map(fit?.pockets.map((entry) => [entry.pocket, entry]));
  const middle = 84;
  return (
    <div ref={element}>
      {width > 100 && (
        <svg width={width} height={HEIGHT} role="group" aria-label="Residuals of the taught pockets">
          <text x="0" y="14" className="caption">
            rings: the allowance, {shown(rack.placing_tolerance, "length", unit)} {unitOf("length", unit)} · arrows:
            taught less fitted, to the ring's scale · shaded: what the fit leaves open
          </text>
          <path d={`M10 ${middle}H${width - 10}`} className="line-centre" />
          {Array.from({ length: rack.count }, (_, index) => {
            const number = index + 1;
            const x = 30 + step * (index + 0.5);
            const mine = taught.get(number);
            const open = known.get(number);
            const out = mine?.stands_out;
            const far = mine && mine.distance > rack.placing_tolerance;
            const part = mine && far ? rack.placing_tolerance / mine.distance : 1;
            const end = mine
              ? [x + mine.dx * scale * part * larger, middle - mine.dy * scale * part * larger]
              : [x, middle];
            return (
              <g
                key={number}
                className="pocket"
                role="button"
                tabIndex={0}
                aria-label={`Pocket ${number}${mine ? `, off by ${shown(mine.distance, "length", unit)}` : ", not taught"}`}
                onClick={() => onPocket(number)}
                onKeyDown={(event) => event.key === "Enter" && onPocket(number)}
              >
                {open && (
                  <circle
                    cx={x}
                    cy={middle}
                    r={Math.min(radius * 1.25, open.known_to * scale)}
                    fill={open.fits ? "var(--dim-wash)" : "var(--stop-wash)"}
                    data-known={number}
                  />
                )}
                <circle
                  cx={x}
                  cy={middle}
                  r={radius}
                  fill="none"
                  className={`ring ${number === pocket ? "line-now" : "line-thin"}`}
                />
                {mine && (
                  <>
                    <path
                      d={`M${x} ${middle}L${end[0]} ${end[1]}`}
                      className={out ? "line-heavy" : "line-outline"}
                      stroke={out ? "var(--stop)" : undefined}
                      style={out ? { stroke: "var(--stop)" } : undefined}
                      data-residual={number}
                    />
                    <circle cx={end[0]} cy={end[1]} r="3.2" fill={out ? "var(--stop)" : "var(--ink)"} />
                  </>
                )}
                <text x={x} y={middle + radius + 18} textAnchor="middle" fontWeight={number === pocket ? 600 : 400}>
                  {number}
                </text>
                <text x={x} y={middle + radius + 35} textAnchor="middle" className="caption">
                  {mine ? shown(mine.distance, "length", unit) : ""}
                </text>
                {out && (
                  <text x={x} y={middle - radius - 8} textAnchor="middle" fill="var(--stop)" fontWeight="600">
                    stands out
                  </text>
                )}
              </g>
            );
          })}
        </svg>
      )}
    </div>
  );
}

interface Chosen {
  pocket: number;
  onPocket: (pocket: number) => void;
}

function Teach({ rack, pocket, onPocket }: Chosen & { rack: Rack }) {
  const position = useLive((live) => live.told?.position);
  const homed = useLive((live) => live.told?.homed);
  const unit = useUnit();
  const [height, setHeight] = useState(false);
  const [trouble, setTrouble] = useState("");
  const there = position?.X !== undefined && position.Y !== undefined && position.Z !== undefined;
  const teach = async () => {
    const { slug, edit, flush } = useWork.getState();
    if (!slug || !position) return;
    await flush();
    const seen = [position.X ?? 0, position.Y ?? 0, position.Z ?? 0];
    const answer = await client
      .POST("/api/machines/{slug}/teach", { params: { path: { slug } }, body: { pocket, seen, with_height: height } })
      .catch(() => null);
    if (!answer?.data) {
      setTrouble(answer ? refusal(answer.error) : "No connection to the server; the pocket was not taught.");
      return;
    }
    const faults = await edit(answer.data.edit_at, answer.data.edit);
    setTrouble(faults.map((fault) => fault.what).join(" "));
    await flush();
    await useReadings.getState().load(slug);
  };
  const length = (value: number | undefined) => shown(value ?? 0, "length", unit);
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-rule pb-2">
      <select
        className="choice w-28! text-left!"
        aria-label="Pocket to teach"
        value={pocket}
        onChange={(event) => onPocket(Number(event.currentTarget.value))}
      >
        {Array.from({ length: rack.count }, (_, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the numbers themselves
          <option key={index} value={index + 1}>
            pocket {index + 1}
          </option>
        ))}
      </select>
      <button
        type="button"
        className="button first"
        disabled={!may("technician") || !there || !homed}
        title={homed ? "Keeps a reading for X and Y" : "Connect and home the machine first"}
        onClick={() => void teach()}
      >
        Teach it here
      </button>
      <span className="text-[14.5px]" data-here>
        {there
          ? `X ${length(position?.X)}  Y ${length(position?.Y)}${height ? `  Z ${length(position?.Z)}` : ""}`
          : "the machine is not connected"}
      </span>
      <label
        className="flex items-center gap-1 text-[14px] text-ink-2"
        title="The nose stands on the setting spacer now"
      >
        <input type="checkbox" checked={height} onChange={(event) => setHeight(event.currentTarget.checked)} /> Z as
        well
      </label>
      {trouble && (
        <p role="alert" className="w-full text-stop">
          {trouble}
        </p>
      )}
    </div>
  );
}

function TaughtTable({ rack, fit, pocket, onPocket }: Chosen & { rack: Rack; fit: Fit | null }) {
  const unit = useUnit();
  const list = useReadings((readings) => readings.list);
  const [says, setSays] = useState<{ text: string; wrong: boolean } | null>(null);
  const { edit } = useWork.getState();
  const figures = new Map(fit?.taught.map((entry) => [entry.pocket, entry]));
  const add = () =>
    void edit("/changer/rack/taught", (before: Rack["taught"]) =>
      [...before, { pocket, x: 0, y: 0, z: null }].sort((a, b) => a.pocket - b.pocket),
    );
  return (
    <div className="pt-1">
      <table className="w-full text-right">
        <thead>
          <tr className="text-[13px] text-ink-3">
            <th className="text-left font-normal">taught</th>
            <th className="font-normal">X {unitOf("length", unit)}</th>
            <th className="font-normal">Y</th>
            <th className="font-normal">misses by</th>
            <th className="font-normal">others put it off</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {rack.taught.map((entry, index) => {
            const mine = figures.get(entry.pocket);
            const from = readingOf(list, `/changer/rack/taught/${index}/x`, entry.x);
            return (
              <tr
                key={entry.pocket}
                className={`border-t border-rule-2 ${entry.pocket === pocket ? "bg-now-wash" : ""}`}
                data-taught={entry.pocket}
              >
                <td className="text-left">
                  <button type="button" className="link" onClick={() => onPocket(entry.pocket)}>
                    {entry.pocket}
                  </button>{" "}
                  <span className="text-[13px] text-ink-3">{from ? when(from.taken) : "typed"}</span>
                </td>
                {(["x", "y"] as const).map((axis) => (
                  <td key={axis} className="table-cell w-24 px-1">
                    <QuantityInput
                      label={`Pocket ${entry.pocket} taught ${axis.toUpperCase()}`}
                      value={entry[axis]}
                      kind="length"
                      unit={unit}
                      readOnly={!may("technician")}
                      onFocus={() => useWork.getState().setFocus(`/changer/rack/taught/${index}/${axis}`)}
                      onCommit={(value) => edit(`/changer/rack/taught/${index}/${axis}`, value)}
                      onSays={setSays}
                    />
                  </td>
                ))}
                <td className={mine?.stands_out ? "font-semibold text-stop" : ""}>
                  {mine ? shown(mine.distance, "length", unit) : ""}
                </td>
                <td className={mine?.stands_out ? "font-semibold text-stop" : "text-ink-2"}>
                  {mine?.missed_by != null ? shown(mine.missed_by, "length", unit) : ""}
                  {mine?.slip ? <span className="block text-[13px]">{mine.slip}</span> : null}
                </td>
                <td>
                  {may("technician") && (
                    <button
                      type="button"
                      className="button plain min-h-8! border-0! px-1.5!"
                      aria-label={`Forget pocket ${entry.pocket}`}
                      onClick={() =>
                        void edit("/changer/rack/taught", (before: Rack["taught"]) =>
                          before.filter((other) => other.pocket !== entry.pocket),
                        )
                      }
                    >
                      <Trash2 size={15} />
                    </button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {says && <p className={`says ${says.wrong ? "wrong" : "understood"}`}>{says.text}</p>}
      {may("technician") && !rack.taught.some((entry) => entry.pocket === pocket) && (
        <button type="button" className="link mt-1 text-[14px]" onClick={add}>
          Type the place of pocket {pocket} instead
        </button>
      )}
    </div>
  );
}

function FitTable({ fit, rack }: { fit: Fit; rack: Rack }) {
  const unit = useUnit();
  const length = (value: number) => `${shown(value, "length", unit)} ${unitOf("length", unit)}`;
  const rows: [string, string, string][] = [
    ["Pocket 1, X", length(fit.origin.x), length(fit.origin_u95.x)],
    ["Pocket 1, Y", length(fit.origin.y), length(fit.origin_u95.y)],
    ["Bearing", `${fit.bearing_deg.toFixed(4).replace("-", "−")}°`, `${fit.bearing_u95_deg.toFixed(4)}°`],
    ["Pitch", length(fit.pitch), length(fit.pitch_u95)],
  ];
  const now = [rack.datum.x, rack.datum.y];
  return (
    <table
      className="mb-1 w-full text-right"
      data-fit
      data-origin={`${fit.origin.x} ${fit.origin.y} ${fit.origin_u95.x} ${fit.origin_u95.y}`}
    >
      <thead>
        <tr className="text-[13px] text-ink-3">
          <th className="text-left font-normal">the fit</th>
          <th className="font-normal" />
          <th className="font-normal">± at 95 %</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, value, open]) => (
          <tr key={name} className="border-t border-rule-2">
            <td className="py-0.5 text-left text-ink-2">{name}</td>
            <td className="font-medium">{value}</td>
            <td className="text-ink-2">{open}</td>
          </tr>
        ))}
      </tbody>
      <caption className="caption-bottom pt-1 text-left text-[13.5px] text-ink-3">
        {rack.datum.at === "pocket" && rack.datum.pocket === 1
          ? `now X ${length(now[0] as number)}, Y ${length(now[1] as number)}, bearing ${rack.bearing_deg}°, pitch ${length(rack.pitch)}`
          : ""}
      </caption>
    </table>
  );
}

function Use({ rack, fit }: { rack: Rack; fit: Fit | null }) {
  const { edit } = useWork.getState();
  const [trouble, setTrouble] = useState("");
  if (!may("technician")) return null;
  const change = async (part: Partial<Rack>) => {
    const faults = await edit("/changer/rack", (before: Rack) => ({ ...before, ...part }));
    setTrouble(faults.map((fault) => fault.what).join(" "));
  };
  const place = { datum: rack.datum, bearing_deg: rack.bearing_deg, pitch: rack.pitch };
  const taken = fit && JSON.stringify(fit.take) === JSON.stringify(place);
  return (
    <div className="mt-2 flex flex-wrap gap-2">
      {fit && (
        <button
          type="button"
          className="button"
          disabled={Boolean(taken) && !rack.single_positions}
          onClick={() => void change({ ...fit.take, nominal: rack.nominal ?? place, single_positions: false })}
        >
          {taken && !rack.single_positions ? "✓ The fit is taken" : "Take the fit"}
        </button>
      )}
      {rack.taught.length > 0 && (
        <button
          type="button"
          className="button plain"
          aria-pressed={rack.single_positions}
          onClick={() => void change({ single_positions: !rack.single_positions })}
        >
          {rack.single_positions ? "✓ Each as it was taught" : "Each as it was taught"}
        </button>
      )}
      {rack.nominal && (
        <button
          type="button"
          className="button plain"
          onClick={() => rack.nominal && void change({ ...rack.nominal, nominal: null, single_positions: false })}
        >
          Back to nominal
        </button>
      )}
      {trouble && <p className="w-full text-stop">{trouble}</p>}
    </div>
  );
}

const OUTCOMES = ["free", "rubs", "meets something"] as const;

/** The first approach in steps: as text, or run at the practice machine; what was seen is noted. */
function Approach({ rack, pocket }: { rack: Rack; pocket: number }) {
  const document = useWork((work) => work.document);
  const practice = useWork((work) => work.machine?.agent === "");
  const [texts, setTexts] = useState<{ name: string; text: string }[]>([]);
  const { edit } = useWork.getState();
  useEffect(() => {
    if (!document) return;
    let gone = false;
    setTexts([]); // another pocket's programs must not be run as this one's
    void client
      .POST("/api/approach", { body: { document, pocket } })
      .then(({ data }) => !gone && setTexts(data ?? []))
      .catch(() => {});
    return () => {
      gone = true;
    };
  }, [document, pocket]);
  const noted = rack.approached.find((entry) => entry.pocket === pocket);
  const note = (outcome: (typeof OUTCOMES)[number]) =>
    void edit("/changer/rack/approached", (before: Rack["approached"]) => [
      ...before.filter((entry) => entry.pocket !== pocket),
      { pocket, outcome, note: "" },
    ]);
  return (
    <section aria-label="Approach" className="mt-3 border-t border-rule pt-2">
      <b className="font-semibold">Approach pocket {pocket} in steps</b>
      <span className="text-[14px] text-ink-2">, the spindle empty</span>
      {texts.map(({ name, text }) => {
        const step = name.split(": ")[1] ?? name;
        return (
          <div key={name} className="flex items-center gap-3 py-0.5">
            <span className="flex-1">{step}</span>
            <button type="button" className="link" onClick={() => save(`${step.replaceAll(" ", "-")}.nc`, text)}>
              Text
            </button>
            {practice && may("technician") && (
              <button
                type="button"
                className="link"
                aria-label={`Run: ${step}`}
                onClick={() => void useLive.getState().send({ do: "run", text, from_tool: 0, to_tool: 0 })}
              >
                Run it
              </button>
            )}
          </div>
        );
      })}
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
    </section>
  );
}
