/** Where the pockets are: taught by jogging to them, fitted, with residuals magnified, and what follows for each pocket. */
import { Trash2 } from "lucide-react";
import { type ClipboardEvent, useState } from "react";
import { type Alignment, client, type Rack, refusal } from "../../api/client";
import { rackOf } from "../../changers/of-changer";
import { listed, type PasteColumn, pasted } from "../../fields/paste";
import { QuantityInput } from "../../fields/quantity-input";
import { QuantityRow, useUnit } from "../../fields/rows";
import { useLive } from "../../live/live";
import { shown, unitOf } from "../../quantity/format";
import { when } from "../../quantity/when";
import { readingOf, readingsChanged, useReadings } from "../../readings/readings";
import { may } from "../../session/session";
import { slugNow, usePreview, useSetup } from "../../work/document";
import { addToSetup, edit } from "../../work/editing";
import { flush } from "../../work/saving";
import { setFocus } from "../../work/selection";
import { Approach } from "./approach";
import { LayoutIn } from "./layout";
import { Residuals } from "./residuals";

type Fit = NonNullable<Alignment["fit"]>;

export function AlignmentView() {
  const rack = useSetup((setup) => rackOf(setup?.changer));
  const alignment = usePreview((answer) => answer?.alignment);
  const [pocket, setPocket] = useState(1);
  if (!rack) return null;
  return (
    <div className="h-full overflow-auto bg-sheet px-5 py-3">
      <Residuals rack={rack} fit={alignment?.fit ?? null} pocket={pocket} onPocket={setPocket} />
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
          <QuantityRow pointer="/changer/rack/placing_tolerance" kind="length" />
          <Use rack={rack} fit={alignment?.fit ?? null} />
          <LayoutIn />
        </div>
      </div>
    </div>
  );
}

interface Chosen {
  pocket: number;
  onPocket: (pocket: number) => void;
}

function Teach({ rack, pocket, onPocket }: Chosen & { rack: Rack }) {
  const position = useLive((live) => live.reported?.position);
  const homed = useLive((live) => live.reported?.homed);
  const unit = useUnit();
  const [height, setHeight] = useState(false);
  const [trouble, setTrouble] = useState("");
  const there = position?.X !== undefined && position.Y !== undefined && position.Z !== undefined;
  const teach = async () => {
    const slug = slugNow();
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
    await readingsChanged(slug);
  };
  const length = (value: number | undefined) => shown(value ?? 0, "length", unit);
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-rule pb-2">
      <PocketChoice rack={rack} pocket={pocket} onPocket={onPocket} />
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

function PocketChoice({ rack, pocket, onPocket }: Chosen & { rack: Rack }) {
  return (
    <select
      className="choice w-28! text-left!"
      aria-label="Pocket to teach"
      value={pocket}
      onChange={(event) => onPocket(Number(event.currentTarget.value))}
    >
      {Array.from({ length: rack.count * (rack.rows ?? 1) }, (_, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the numbers themselves
        <option key={index} value={index + 1}>
          pocket {index + 1}
        </option>
      ))}
    </select>
  );
}

type Says = { text: string; wrong: boolean } | null;
type Taught = Rack["taught"][number];

const PLACE: PasteColumn[] = [
  { field: "x", kind: "length" },
  { field: "y", kind: "length" },
];

function TaughtTable({ rack, fit, pocket, onPocket }: Chosen & { rack: Rack; fit: Fit | null }) {
  const unit = useUnit();
  const [says, setSays] = useState<Says>(null);
  const add = () =>
    void addToSetup({
      what: "entry",
      body: { where: "/changer/rack/taught", entry: { pocket, x: 0, y: 0, z: null } },
    });
  const onPaste = (event: ClipboardEvent<HTMLTableElement>) => {
    const rows = rack.taught.map((_, index) => index);
    const put = (entry: Taught, field: string, value: unknown) => ({ ...entry, [field]: value });
    const table = listed("/changer/rack/taught", rows, PLACE, unit, put);
    void pasted(event, table, 1)?.then((text) => setSays({ text, wrong: false }));
  };
  return (
    <div className="pt-1">
      <table className="w-full text-right" onPaste={onPaste}>
        <thead>
          <tr className="text-[13px] text-ink-3">
            <th className="text-left font-normal">taught</th>
            <th className="font-normal">X {unitOf("length", unit)}</th>
            <th className="font-normal">Y</th>
            <th className="font-normal">misses by</th>
            <th className="font-normal">off the fit of the others</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {rack.taught.map((entry, index) => (
            <TaughtRow
              key={entry.pocket}
              entry={entry}
              index={index}
              mine={fit?.taught.find((other) => other.pocket === entry.pocket)}
              chosen={entry.pocket === pocket}
              onPocket={onPocket}
              onSays={setSays}
            />
          ))}
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

interface RowProps {
  entry: Rack["taught"][number];
  index: number;
  mine: Fit["taught"][number] | undefined;
  chosen: boolean;
  onPocket: (pocket: number) => void;
  onSays: (says: Says) => void;
}

function TaughtRow({ entry, index, mine, chosen, onPocket, onSays }: RowProps) {
  const unit = useUnit();
  const list = useReadings();
  const from = readingOf(list, `/changer/rack/taught/${index}/x`, entry.x);
  const forget = () =>
    void edit("/changer/rack/taught", (before: Rack["taught"]) =>
      before.filter((other) => other.pocket !== entry.pocket),
    );
  return (
    <tr
      className={`border-t border-rule-2 ${chosen ? "bg-now-wash" : ""}`}
      data-taught={entry.pocket}
      data-index={index}
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
            onFocus={() => setFocus(`/changer/rack/taught/${index}/${axis}`)}
            pointer={`/changer/rack/taught/${index}/${axis}`}
            onCommit={(value) => edit(`/changer/rack/taught/${index}/${axis}`, value)}
            onSays={onSays}
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
            aria-label={`Delete the taught place of pocket ${entry.pocket}`}
            onClick={forget}
          >
            <Trash2 size={15} />
          </button>
        )}
      </td>
    </tr>
  );
}

function FitTable({ fit, rack }: { fit: Fit; rack: Rack }) {
  const unit = useUnit();
  const length = (value: number) => `${shown(value, "length", unit)} ${unitOf("length", unit)}`;
  const rows: [string, string, string][] = [
    ["Pocket 1, X", length(fit.fit.origin.x), length(fit.origin_u95)],
    ["Pocket 1, Y", length(fit.fit.origin.y), length(fit.origin_u95)],
    ["Bearing", `${fit.fit.bearing_deg.toFixed(4).replace("-", "−")}°`, `${fit.bearing_u95_deg.toFixed(4)}°`],
    ["Pitch", length(fit.fit.pitch), length(fit.pitch_u95)],
  ];
  const now = [rack.datum.x, rack.datum.y];
  return (
    <table
      className="mb-1 w-full text-right"
      data-fit
      data-origin={`${fit.fit.origin.x} ${fit.fit.origin.y} ${fit.origin_u95} ${fit.origin_u95}`}
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
