/** What a routine has found: where its touches were latched, the sum of them with what it is uncertain by, and the line that sets
 * the zero. */
import { type ReactNode, useEffect, useRef, useState } from "react";
import { type Aim, client, type KeptResult, type Probing, type Summed } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { QuantityInput } from "../../fields/quantity-input";
import { described, useUnit } from "../../fields/rows";
import { type Answer as LiveAnswer, useLive } from "../../live/live";
import { usePages } from "../../live/pages";
import { save } from "../../program/save";
import { shown, unitOf } from "../../quantity/format";
import { takeReading } from "../../readings/readings";
import { note, usePart, useSearch } from "../../session/address";
import { may } from "../../session/session";
import { axesOf, means, NO_TOUCHES, type Place, useTouches, xyz } from "../../touching/touches";
import { useRoutine } from "../../touching/which-routine";
import { useMachine, useSetup, useSlug } from "../../work/document";
import { edit } from "../../work/editing";
import { Deviations } from "./deviations";
import { digits, named, signed } from "./digits";
import { Earlier, Keep, useKept } from "./kept";

export function ResultView() {
  const { answer } = useRoutine();
  if (!answer) return null;
  if (!answer.aims.length)
    return <p className="bg-sheet p-6 text-ink-2">This routine touches nothing: nothing is to be worked out.</p>;
  return <Result key={answer.routine} answer={answer} />;
}

function Result({ answer }: { answer: Probing }) {
  const of = `${useSlug()} ${answer.routine}`;
  const places = useTouches((kept) => kept.places[of]) ?? NO_TOUCHES;
  const set = (next: (Place | null)[]) => useTouches.getState().set(of, next);
  const [said, setSaid] = useState("");
  const [stood, setStood] = useState(!answer.works_out);
  const document = useSetup();
  const { kept, loaded, refetch } = useKept(answer.routine);
  const opened = kept.find((entry) => JSON.stringify(entry.places) === JSON.stringify(places))?.id ?? null;
  const open = (result: KeptResult) => {
    set(result.places as Place[]);
    setStood(result.stood);
  };
  const linked = new URLSearchParams(useSearch()).get("routine");
  const ready = loaded && (linked === null || linked === answer.routine);
  usePart("result", opened === null ? null : String(opened), ready, (id) => {
    const found = kept.find((entry) => String(entry.id) === id);
    if (found) open(found);
    return found !== undefined;
  });
  const left = useRef(opened);
  left.current = opened;
  useEffect(() => () => void (left.current !== null && note({ result: null }, "same")), []); // it is this routine's
  const newest = opened === null ? kept[0] : kept[kept.findIndex((entry) => entry.id === opened) + 1];
  const last = newest && Object.fromEntries(newest.quantities.map((entry) => [entry.name, entry.value]));
  const whole = places.length === answer.aims.length && places.every(Boolean) ? (places as Place[]) : null;
  const { data, trouble } = useAnswer(
    whole ? ["routine-result", answer.routine, whole, stood, nameOf(document), newest?.id] : null,
    () =>
      client.POST("/api/routines/result", {
        body: { document: document ?? {}, routine: answer.routine, places: whole ?? [], stood, last },
      }),
    { keep: 4 },
  );
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4" data-result>
      <h2 className="text-[17px] font-semibold">Result of {answer.routine}</h2>
      <p className="text-[14.5px] text-ink-2">
        Where each touch that counts was latched: machine coordinates of the gauge line. Take them from the practice
        machine, or enter what was noted.
      </p>
      <Entry answer={answer} places={places} onPlaces={set} />
      <label className="mt-2 flex min-h-10 items-center gap-2 text-[14.5px]">
        <input type="checkbox" checked={stood} onChange={(event) => setStood(event.currentTarget.checked)} />
        They were read off after the machine stood: the way of stopping is taken off
      </label>
      {trouble && (
        <p role="alert" className="text-stop">
          {trouble}
        </p>
      )}
      {data && whole && (
        <Found found={data} answer={answer} onSaid={setSaid}>
          <Keep
            found={data}
            asked={{ routine: answer.routine, places: whole, stood }}
            kept={opened !== null}
            onKept={refetch}
          />
        </Found>
      )}
      {said && <p role="status">{said}</p>}
      <Earlier kept={kept} open={opened} onOpen={open} />
    </div>
  );
}

interface EntryProps {
  answer: Probing;
  places: (Place | null)[];
  onPlaces: (next: (Place | null)[]) => void;
}

function Entry({ answer, places, onPlaces }: EntryProps) {
  const pages = usePages();
  const probe = useSetup((setup) => setup?.probes.find((entry) => entry.tool === answer.from_tool));
  const touches = pages?.lies === answer.routine ? means(pages?.touches ?? [], probe?.touches ?? 1) : [];
  const complete = touches.length === answer.aims.length;
  const change = (index: number, place: Place) =>
    onPlaces(answer.aims.map((_, at) => (at === index ? place : (places[at] ?? null))));
  return (
    <>
      <p className="mt-2 flex flex-wrap items-center gap-3">
        {pages && (
          <button
            type="button"
            className="button first"
            disabled={!complete || !may("technician")}
            title={complete ? undefined : "Put a part down and run the routine at the practice machine first"}
            onClick={() => onPlaces(touches)}
          >
            Take {answer.aims.length} touches from the machine
          </button>
        )}
        {places.length > 0 && (
          <button type="button" className="link" onClick={() => onPlaces([])}>
            Clear
          </button>
        )}
      </p>
      <table className="mt-2 text-[14.5px]" aria-label="Touches">
        <tbody>
          {answer.aims.map((aim, index) => (
            <Row
              key={aim.name}
              aim={aim}
              number={index + 1}
              place={places[index] ?? null}
              onPlace={(place) => change(index, place)}
            />
          ))}
        </tbody>
      </table>
    </>
  );
}

interface RowProps {
  aim: Aim;
  number: number;
  place: Place | null;
  onPlace: (place: Place) => void;
}

function Row({ aim, number, place, onPlace }: RowProps) {
  const unit = useUnit();
  const at = place ?? xyz(aim.stands);
  const [says, setSays] = useState<{ text: string; wrong: boolean } | null>(null);
  return (
    <tr className="border-t border-rule-2">
      <td className="py-0.5 pr-3 text-right text-ink-3">{number}</td>
      <td className="pr-4">{aim.name}</td>
      {axesOf(aim.way).map((axis) => (
        <td key={axis} className="pr-4">
          <span className="flex items-center gap-1.5">
            <span className="text-ink-3">{"XYZ"[axis]}</span>
            <span className={`w-28 border border-rule ${place ? "" : "opacity-50"}`}>
              <QuantityInput
                label={`Touch ${number}, ${"XYZ"[axis]}`}
                value={at[axis]}
                kind="length"
                unit={unit}
                rounded
                readOnly={!may("technician")}
                onSays={setSays}
                onCommit={async (value) => {
                  onPlace(at.map((part, other) => (other === axis ? value : part)) as Place);
                  return [];
                }}
              />
            </span>
          </span>
        </td>
      ))}
      <td className={`text-[13px] ${says?.wrong ? "text-stop" : "text-ink-3"}`}>
        {says?.text ?? (place ? "" : "not yet: this is what is expected")}
      </td>
    </tr>
  );
}

interface FoundProps {
  found: Summed;
  answer: Probing;
  children: ReactNode;
  /** reported above, since what is set changes what is worked out */
  onSaid: (text: string) => void;
}

function Found({ found, answer, children, onSaid }: FoundProps) {
  const [truth, setTruth] = useState<LiveAnswer["truth"]>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another result has another truth beside it
  useEffect(() => setTruth(undefined), [found]);
  const practice = useMachine((machine) => machine?.agent === "");
  const compared = found.quantities.some((entry) => entry.moved !== null);
  const really = (name: string) => truth?.find((row) => row.where === `/routines/${found.routine}/${name}`)?.true;
  return (
    <section aria-label="Result" className="mt-3">
      <table className="text-[15px]" aria-label="Result">
        <thead>
          <tr className="text-left text-[13.5px] text-ink-3">
            <th className="pr-5 font-normal" />
            <th className="pr-5 text-right font-normal">found</th>
            <th className="pr-5 text-right font-normal">±, 95 %</th>
            <th className="pr-5 text-right font-normal">expected</th>
            <th className="pr-5 text-right font-normal">off by</th>
            <th className="pr-5 text-right font-normal">may be</th>
            {compared && <th className="pr-5 text-right font-normal">since the last</th>}
            {truth && <th className="pr-5 text-right font-normal">really</th>}
          </tr>
        </thead>
        <tbody>
          {found.quantities.map((entry) => (
            <FoundRow
              key={entry.name}
              entry={entry}
              compared={compared}
              shown={truth !== undefined}
              really={really(entry.name)}
            />
          ))}
        </tbody>
      </table>
      {found.says && (
        <p role="alert" className="mt-2 text-stop">
          {found.says}
        </p>
      )}
      <Zero found={found} onSaid={onSaid} />
      <div className="mt-2 flex flex-wrap items-center gap-4">
        {children}
        <button type="button" className="link" onClick={() => save(`${found.routine}.csv`, csv(found))}>
          CSV
        </button>
        <button type="button" className="link" onClick={() => window.print()}>
          Print
        </button>
        {practice && !truth && (
          <button
            type="button"
            className="link"
            onClick={async () => setTruth((await useLive.getState().send({ do: "truth" })).truth)}
          >
            Show how the part really lies
          </button>
        )}
      </div>
      <Shares found={found} />
      <Deviations answer={answer} found={found} />
    </section>
  );
}

interface FoundRowProps {
  entry: Summed["quantities"][number];
  compared: boolean;
  /** whether the truth is shown, and what it is of this quantity */
  shown: boolean;
  really: number | undefined;
}

function FoundRow({ entry, compared, shown, really }: FoundRowProps) {
  const unit = useUnit();
  return (
    <tr
      className={`border-t border-rule-2 text-right ${entry.fits ? "" : "text-stop"}`}
      data-found={entry.name}
      data-value={entry.value}
      data-half={entry.half_width_95}
    >
      <td className="pr-5 text-left">
        {named(entry.name)} <small className="text-ink-3">{entry.unit === "°" ? "°" : unitOf("length", unit)}</small>
      </td>
      <td className="pr-5 font-semibold">{digits(entry.value, entry.unit, unit)}</td>
      <td className="pr-5">{digits(entry.half_width_95, entry.unit, unit)}</td>
      <td className="pr-5 text-ink-2">{digits(entry.expected, entry.unit, unit)}</td>
      <td className="pr-5">{signed(entry.off, entry.unit, unit)}</td>
      <td className="pr-5 text-ink-2">
        {entry.allowed === null ? "" : `± ${digits(entry.allowed, entry.unit, unit)}`}
      </td>
      {compared && (
        <td className="pr-5" data-moved={entry.moved}>
          {entry.moved === null ? "" : signed(entry.moved, entry.unit, unit)}
        </td>
      )}
      {shown && (
        <td className="pr-5" data-really={really}>
          {really === undefined ? "" : digits(really, entry.unit, unit)}
        </td>
      )}
    </tr>
  );
}

/** The zero that follows: the line for the control, and the Setup's own work offset. */
function Zero({ found, onSaid }: Pick<FoundProps, "found" | "onSaid">) {
  const { routine, answer } = useRoutine();
  const unit = useUnit();
  const offsets = useSetup((setup) => setup?.work_offsets) ?? [];
  const number = routine?.work_offset;
  const index = offsets.findIndex((entry) => entry.number === number);
  if (!number || !Object.keys(found.zero).length) return null;
  const take = async () => {
    for (const [axis, value] of Object.entries(found.zero)) {
      const quantity = `/work_offsets/${index}/${axis}`;
      const how = `routine ${found.routine}`;
      const half_width_95 = found.quantities.find((entry) => entry.name === axis)?.half_width_95 ?? null;
      const body = { quantity, source: "typed" as const, value, how, rests_on: answer?.run_of.rests_on, half_width_95 };
      const trouble = await takeReading(body);
      const faults = trouble || described(await edit(quantity, value));
      if (faults) {
        onSaid(faults);
        return;
      }
    }
    onSaid(`Work offset ${number} of the Setup is set, and kept as readings.`);
  };
  return (
    <div className="mt-2 text-[15px]" data-zero>
      Zero of work offset {number}:{" "}
      {Object.entries(found.zero)
        .map(([axis, value]) => `${axis.toUpperCase()} ${shown(value, "length", unit)}`)
        .join("  ")}
      {found.line && (
        <p className="mt-1 font-mono text-[14px]" data-line>
          {found.line}
        </p>
      )}
      {index >= 0 && may("technician") && (
        <button type="button" className="link" onClick={() => void take()}>
          set it in the Setup
        </button>
      )}
    </div>
  );
}

function Shares({ found }: { found: Summed }) {
  return (
    <details className="mt-2 text-[14.5px]">
      <summary className="min-h-8 cursor-pointer">What the uncertainty is made of</summary>
      <ul>
        {found.quantities.map((entry) => (
          <li key={entry.name}>
            <b className="font-semibold">{named(entry.name)}</b>:{" "}
            {entry.shares.map((share) => `${share.name} ${Math.round(share.share * 100)} %`).join(", ")}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** A cell of a CSV file: quoted where it must be, and a name that begins like a formula is none. */
function cell(value: string | number): string {
  const text = typeof value === "string" && /^[=+\-@\t\r]/.test(value) ? `'${value}` : String(value);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

function csv(found: Summed): string {
  const rows = found.quantities.map((entry) =>
    [found.routine, entry.name, entry.unit, entry.value, entry.half_width_95, entry.expected, entry.off]
      .map(cell)
      .join(","),
  );
  return [
    "routine,quantity,unit,found,half_width_95,expected,off",
    ...rows,
    ...found.touches.map((touch) => [found.routine, touch.name, "mm", "", "", "", touch.off].map(cell).join(",")),
    "",
  ].join("\n");
}
