/** Take reading: which number of the machine goes where, seen before it is taken; and the readings of the quantity. */

import { useEffect, useState } from "react";
import { client, type Reading } from "../api/client";
import { nameOf, useAnswer } from "../api/query";
import { QuantityInput } from "../fields/quantity-input";
import { useUnit } from "../fields/rows";
import { fieldKeys, useTyped } from "../fields/typed";
import { plainNumber } from "../fields/understand";
import { kindOf, shown, unitOf, workOffset } from "../quantity/format";
import { when } from "../quantity/when";
import { readingOf, takeReading, takeSeries, useReadings } from "../readings/readings";
import { may } from "../session/session";
import { setupNow, useSetup } from "../work/document";
import { edit } from "../work/editing";
import { place } from "../work/naming";
import { read } from "../work/pointer";
import { useSelection } from "../work/selection";
import { type Axis, useLive } from "./live";

const SERIES = /^\/machine\/axes\/([XYZ])\/(home_scatter|backlash)$/;

export function Capture() {
  const focus = useSelection((work) => work.focus);
  if (!focus)
    return (
      <p className="p-3 text-[14.5px] text-ink-2">
        Click a quantity in the schedule or on the sheet: what the machine says for it stands here, to be taken.
      </p>
    );
  return (
    <div className="flex min-h-0 flex-col overflow-auto px-3 py-1.5 text-[14.5px]" data-capture={focus} key={focus}>
      {SERIES.test(focus) ? <SeriesCapture quantity={focus} /> : <PositionCapture quantity={focus} />}
      <ReadingsOf quantity={focus} />
    </div>
  );
}

/** What the machine's present position would make of the quantity, once it stands for a moment. */
function useOffer(quantity: string) {
  const document = useSetup();
  const position = useLive((live) => live.reported?.position);
  const tool = useLive((live) => live.reported?.tool ?? null);
  const now = position?.X !== undefined ? `${position.X} ${position.Y} ${position.Z}` : "";
  const [at, setAt] = useState(now);
  useEffect(() => {
    const timer = setTimeout(() => setAt(now), 120);
    return () => clearTimeout(timer);
  }, [now]);
  const where = at ? at.split(" ").map(Number) : null;
  return useAnswer(
    document && ["offer", quantity, nameOf(document), at, tool],
    () => client.POST("/api/offers", { body: { document: document ?? {}, quantity, position: where, tool } }),
    { keep: 2 },
  );
}

function PositionCapture({ quantity }: { quantity: string }) {
  const { data: offer, trouble: unanswered } = useOffer(quantity);
  const unit = useUnit();
  const document = useSetup();
  const now = read(document, quantity) as number | undefined | null;
  const [trouble, setTrouble] = useState("");
  const homed = useLive((live) => live.reported?.homed);
  const take = async () => {
    const { position } = useLive.getState().reported ?? {};
    if (!position) return;
    const seen = [position.X ?? Number.NaN, position.Y ?? Number.NaN, position.Z ?? Number.NaN];
    setTrouble(await takeReading({ quantity, source: "machine", seen }));
  };
  const length = (value: number) => shown(value, "length", unit, true);
  const made = offer?.offer;
  return (
    <>
      <p className="font-semibold">{place(quantity)}</p>
      {typeof now === "number" && <Provenance quantity={quantity} value={now} />}
      {made ? (
        <div className="mt-1 flex items-center gap-3">
          <button
            type="button"
            className="button first"
            disabled={!may("technician") || homed === false}
            onClick={() => void take()}
            title={homed === false ? "Home the machine first: its position is not known" : undefined}
          >
            Take reading
          </button>
          <span className="leading-tight" data-offer>
            becomes <b className="text-[17px] text-now">{length(made.value)}</b> {unitOf("length", unit)}
            <br />
            <span className="text-[13.5px] text-ink-2">
              {made.says}: {length(made.raw)}, to steps of {length(made.step)}
            </span>
          </span>
        </div>
      ) : (
        <p className="text-ink-2">{offer?.says || unanswered}</p>
      )}
      {trouble && (
        <p role="alert" className="text-stop">
          {trouble}
        </p>
      )}
      {typeof now === "number" && <ReadBack quantity={quantity} />}
    </>
  );
}

function Provenance({ quantity, value }: { quantity: string; value: number }) {
  const list = useReadings();
  const unit = useUnit();
  const from = readingOf(list, quantity, value);
  return (
    <p className="text-[13.5px] text-ink-2">
      is {shown(value, "length", unit, true)}, {from ? `reading of ${when(from.taken)} by ${from.author}` : "typed"}
    </p>
  );
}

/** The technician types what the control shows; the difference is reported. */
function ReadBack({ quantity }: { quantity: string }) {
  const typed = useTyped();
  const [trouble, setTrouble] = useState("");
  const check = async () => {
    const value = await plainNumber(typed.now() ?? "");
    if (typeof value === "string") {
      setTrouble(value);
      return;
    }
    setTrouble(await takeReading({ quantity, source: "read-back", value }));
    typed.type(null);
  };
  return (
    <p className="mt-1 flex items-center gap-2 text-[13.5px] text-ink-2">
      <label className="flex items-center gap-2">
        the control shows
        <input
          className="field w-24!"
          inputMode="decimal"
          value={typed.text ?? ""}
          onChange={(event) => typed.type(event.currentTarget.value)}
          onKeyDown={(event) =>
            fieldKeys(
              event,
              typed,
              () => void check(),
              () => setTrouble(""),
            )
          }
        />
      </label>
      <button type="button" className="link" disabled={!may("technician")} onClick={() => void check()}>
        Read back
      </button>
      {trouble && <span className="text-stop">{trouble}</span>}
    </p>
  );
}

function SeriesCapture({ quantity }: { quantity: string }) {
  const [, axis = "X", what] = SERIES.exec(quantity) ?? [];
  const backlash = what === "backlash";
  const [trouble, setTrouble] = useState("");
  return (
    <>
      <p className="font-semibold">
        {axis} {backlash ? "backlash" : "scatter of home"}
      </p>
      <p className="text-[13.5px] leading-tight text-ink-2">
        {backlash
          ? "Stand a dial on the axis; come to the same place from below and from above, and read it each time."
          : "Stand a dial on the axis; home, return to it, read it; at least three times."}
      </p>
      <Dial quantity={quantity} axis={axis as Axis} backlash={backlash} onTrouble={setTrouble} />
      <Series quantity={quantity} onTrouble={setTrouble} />
      {trouble && (
        <p role="alert" className="text-stop">
          {trouble}
        </p>
      )}
    </>
  );
}

interface DialProps {
  quantity: string;
  axis: Axis;
  backlash: boolean;
  onTrouble: (text: string) => void;
}

/** What the dial shows, from the machine or typed; a reading of it. */
function Dial({ quantity, axis, backlash, onTrouble }: DialProps) {
  const unit = useUnit();
  const dial = useLive((live) => live.reported?.dials[axis]);
  const came = useLive((live) => live.came[axis]);
  const [typed, setTyped] = useState<number | null>(null);
  const take = async () => {
    const value = typed !== null ? { value: typed } : {};
    onTrouble(await takeReading({ quantity, source: "dial", came, ...value }));
  };
  return (
    <div className="mt-1 flex items-center gap-2">
      {dial === undefined ? (
        <>
          <button
            type="button"
            className="button plain min-h-9!"
            disabled={!may("technician")}
            onClick={() => void useLive.getState().send({ do: "dial", axis })}
          >
            Stand a dial, zero it
          </button>
          <span className="w-28">
            <QuantityInput
              label="The dial shows"
              value={typed ?? 0}
              kind="length"
              unit={unit}
              onCommit={async (value) => {
                setTyped(value);
                return [];
              }}
              onSays={() => {}}
            />
          </span>
        </>
      ) : (
        <span>
          dial <b className="text-[17px]">{shown(dial, "length", unit, true)}</b>
        </span>
      )}
      <button
        type="button"
        className="button first min-h-9!"
        disabled={!may("technician") || (dial === undefined && typed === null)}
        onClick={() => void take()}
      >
        Take reading{backlash ? (came > 0 ? ", from below" : ", from above") : ""}
      </button>
    </div>
  );
}

/** The readings since the last series of the quantity, to be used as one. */
function Series({ quantity, onTrouble }: { quantity: string; onTrouble: (text: string) => void }) {
  const unit = useUnit();
  const list = useReadings();
  const [from, setFrom] = useState(0);
  const last = list.find((reading) => reading.pointer === quantity && reading.source === "series");
  const series = list.filter(
    (r) => r.pointer === quantity && r.source === "dial" && r.id > Math.max(from, last?.id ?? 0),
  );
  const use = async () => {
    const ids = series.map((reading) => reading.id);
    onTrouble(await takeSeries(quantity, ids));
  };
  return (
    <p className="mt-1 flex flex-wrap items-center gap-x-3 text-[13.5px]">
      <span data-series>
        {series.length === 0
          ? "no reading of this series yet"
          : series.map((r) => `${(r.came ?? 1) > 0 ? "↑" : "↓"}${shown(r.value, "length", unit, true)}`).join("  ")}
      </span>
      {series.length > 0 && (
        <>
          <button type="button" className="link" onClick={() => void use()}>
            Use these {series.length}
          </button>
          <button type="button" className="link" onClick={() => setFrom(series[0]?.id ?? 0)}>
            Start over
          </button>
        </>
      )}
    </p>
  );
}

/** The readings of a quantity, the newest first; an older one can be taken again. */
function ReadingsOf({ quantity }: { quantity: string }) {
  const list = useReadings();
  const document = useSetup();
  const now = read(document, quantity);
  const mine = list.filter((reading) => reading.pointer === quantity && reading.source !== "dial").slice(0, 8);
  if (mine.length === 0) return null;
  return (
    <ul className="mt-1.5 border-t border-rule-2 pt-1 text-[13.5px]" aria-label="Readings">
      {mine.map((reading) => (
        <ReadingLine key={reading.id} reading={reading} now={now} />
      ))}
    </ul>
  );
}

/** An older reading's value, put in again; a travel that is not measured any more begins from the data sheet. */
async function takeAgain(reading: Reading): Promise<string> {
  const document = setupNow();
  const [, axis, end] = /^\/machine\/axes\/([XYZ])\/measured\/(least|greatest)$/.exec(reading.pointer) ?? [];
  const data = axis && document?.machine.axes[axis as Axis];
  const faults = data
    ? await edit(`/machine/axes/${axis}/measured`, {
        least: data.least,
        greatest: data.greatest,
        ...data.measured,
        [end as string]: reading.value,
      })
    : await edit(reading.pointer, reading.value);
  return faults.map((fault) => fault.what).join(" ");
}

function ReadingLine({ reading, now }: { reading: Reading; now: unknown }) {
  const unit = useUnit();
  const value = `${shown(reading.value, "length", unit, true)} ${unitOf(kindOf("mm"), unit)}`;
  const [trouble, setTrouble] = useState("");
  const again = async () => setTrouble(await takeAgain(reading));
  if (reading.source === "read-back")
    return (
      <li className={reading.agrees ? "text-proven" : "text-stop"}>
        {when(reading.taken)} read back {reading.raw}:{" "}
        {reading.agrees
          ? "agrees"
          : `${(reading.difference ?? 0) > 0 ? "+" : "−"}${Math.abs(reading.difference ?? 0).toPrecision(4)} off${reading.slip ? `, ${reading.slip}` : ""}`}
      </li>
    );
  return (
    <li className="flex gap-2">
      <span className="flex-1 truncate" title={reading.says}>
        {when(reading.taken)} {reading.author}: <b className="font-medium">{value}</b>
        {reading.tool ? ` · T${reading.tool}` : ""}
        {reading.work_offset ? ` · ${workOffset(reading.work_offset)}` : ""} · {reading.source}
      </span>
      {now === reading.value ? (
        <span className="text-proven">in use</span>
      ) : (
        <button type="button" className="link" onClick={() => void again()}>
          take again
        </button>
      )}
      {trouble && (
        <span role="alert" className="text-stop">
          {trouble}
        </span>
      )}
    </li>
  );
}
