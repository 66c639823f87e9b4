/** What the control has measured beside what is on record; a length is taken over as a reading. */
import { useState } from "react";
import { client, type Setup, type Tool } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { described, useUnit } from "../../fields/rows";
import type { Pages, Ran } from "../../live/live";
import { usePages } from "../../live/pages";
import { shown, unitOf } from "../../quantity/format";
import { takeLength, takeWear, wholeLength } from "../../readings/lengths";
import { readingOf, takeReading, useReadings } from "../../readings/readings";
import { RestsOn } from "../../readings/rests-on";
import { may } from "../../session/session";
import { usePreview, useSetup } from "../../work/document";
import { edit } from "../../work/editing";
import { place } from "../../work/naming";
import { located, read } from "../../work/pointer";
import { useVocabulary } from "../../work/vocabulary";
import { useSetter } from "./which";

const MEASURED = "measured at the setter";

/** A length that the control has, with what is known of it. */
interface OfControl {
  tool: Tool;
  index: number;
  value: number | undefined;
  /** which program set it, and when; null: none that was run from here */
  by: Ran | null;
  /** why it is not to be used, "": it may be */
  why: string;
  half: number | null;
  assumed: string[];
}

/** What the control has of each tool, whether it rests on what still holds, and what it is uncertain by. */
function useOfControl(pages: Pages | null): OfControl[] {
  const document = useSetup();
  const { index } = useSetter();
  const setter = document?.setters[index];
  const list = useReadings();
  const plane = setter && readingOf(list, `/setters/${index}/plane_z`, setter.plane_z);
  const every = (document?.tools ?? []).map((tool, at) => {
    const value = pages?.lengths[tool.number];
    const by = pages?.measured?.[tool.number] ?? null;
    const differs = value !== undefined && Math.abs(value - wholeLength(tool)) > SAME;
    return { tool, index: at, value, by, why: differs ? whyNot(document, by) : "" };
  });
  const asked = every.filter((entry) => entry.by && !entry.why && entry.value !== undefined);
  const body = {
    document: document ?? {},
    setter: setter?.name ?? "",
    plane_half: plane?.half_width_95 ?? null,
    lengths: asked.map(({ tool, value }) => ({ tool: tool.number, value: value ?? 0 })),
  };
  const { data } = useAnswer(
    setter && asked.length ? ["lengths", nameOf(document), setter.name, body.plane_half, body.lengths] : null,
    () => client.POST("/api/setter/lengths", { body }),
  );
  return every.map((entry) => {
    const found = data?.find((each) => each.tool === entry.tool.number);
    return { ...entry, half: found?.half_width_95 ?? null, assumed: found?.assumed ?? [] };
  });
}

const SAME = 1e-6;

/** Why a length of the control is not to be used: by which program it was set is not known, or it rests on what was replaced. */
function whyNot(document: Setup | null, by: Ran | null): string {
  if (!by) return "not by a program that was run from here";
  const { keys } = useVocabulary.getState();
  const gone = Object.entries(by.of.rests_on ?? {}).find(([key, value]) => {
    const pointer = located(document, key, keys);
    return pointer === null || read(document, pointer) !== value;
  });
  return gone ? `measured with another ${place(gone[0]).toLowerCase()}: measure it again` : "";
}

/** Take a length of the control over as a reading, with what it rests on and when it was measured. */
const use = (entry: OfControl) =>
  takeLength(entry.tool, entry.value ?? wholeLength(entry.tool), {
    how: MEASURED,
    rests_on: entry.by?.of.rests_on ?? {},
    measured: entry.by?.at ?? null,
    half_width_95: entry.half,
  });

export function Lengths() {
  const pages = usePages();
  const unit = useUnit();
  const [trouble, setTrouble] = useState("");
  const every = useOfControl(pages);
  const differs = every.filter(({ tool, value }) => Math.abs((value ?? wholeLength(tool)) - wholeLength(tool)) > SAME);
  const measured = differs.filter((entry) => !entry.why);
  const left = differs.filter((entry) => entry.why);
  const all = async () => {
    const said = [];
    for (const entry of measured) said.push(await use(entry));
    setTrouble(said.filter(Boolean).join(" "));
  };
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[17px] font-semibold">Lengths</h2>
      <p className="text-[14.5px] text-ink-2">
        {pages
          ? "What the control has, beside what is on record here. A program of measuring sets the control's."
          : "Connect the practice machine in the hand panel, and run a program of measuring; then its lengths stand here. At another machine read them at the control, and type them on the Tools stage."}
      </p>
      {measured.length > 1 && may("technician") && (
        <button
          type="button"
          className="button first mt-2"
          disabled={measured.some((entry) => entry.half === null)}
          onClick={() => void all()}
        >
          Use all {measured.length}
        </button>
      )}
      {left.length > 0 && (
        <p className="mt-1 text-[14.5px] text-warn" data-left-out>
          Left out: {left.map(({ tool, why }) => `T${tool.number} (${why})`).join(", ")}.
        </p>
      )}
      {trouble && (
        <p role="alert" className="mt-1 text-stop">
          {trouble}
        </p>
      )}
      <Diameter />
      <table className="mt-3" aria-label="Lengths">
        <thead>
          <tr className="text-right text-[13px] text-ink-3">
            <th className="text-left font-normal">tool</th>
            <th className="px-4 font-normal">on record, {unitOf("length", unit)}</th>
            <th className="px-4 font-normal">the control has</th>
            <th className="px-4 font-normal">±</th>
            <th className="px-4 font-normal">longer by</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {every.map((entry) => (
            <Line
              key={entry.tool.number}
              of={entry}
              onTake={() => void use(entry).then(setTrouble)}
              onWear={(value) => void takeWear(entry.tool, value, MEASURED).then(setTrouble)}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The diameter that the control has worked out for the tool that was measured last, where it was touched from two sides. */
function Diameter() {
  const unit = useUnit();
  const pages = usePages();
  const measuring = usePreview((answer) => answer?.measuring);
  const number = measuring?.sequence === "measure" ? measuring.tools.at(-1) : undefined;
  const index = useSetup((setup) => setup?.tools.findIndex((tool) => tool.number === number) ?? -1);
  const tool = useSetup((setup) => setup?.tools[index]);
  const [said, setSaid] = useState("");
  const found = pages?.parameters[measuring?.diameter_parameter ?? 0];
  if (!tool || tool.edge_height == null || found === undefined || Math.abs(found - tool.diameter) < 1e-6) return null;
  const mm = (value: number) => `${shown(value, "length", unit)} ${unitOf("length", unit)}`;
  const take = async () => {
    const quantity = `/tools/${index}/diameter`;
    const how = "touched from two sides at the setter";
    const trouble = await takeReading({ quantity, source: "typed", value: found, how });
    setSaid(trouble || described(await edit(quantity, found)));
  };
  return (
    <p className="mt-2" data-diameter={found}>
      T{tool.number} is <b className="font-semibold">{mm(found)}</b> across, as the control has worked out; on record
      are {mm(tool.diameter)}.{" "}
      {may("technician") && (
        <button type="button" className="link" onClick={() => void take()}>
          use it
        </button>
      )}
      {said && <span className="text-stop"> {said}</span>}
    </p>
  );
}

interface LineProps {
  of: OfControl;
  onTake: () => void;
  onWear: (value: number) => void;
}

function Line({ of, onTake, onWear }: LineProps) {
  const { tool, value: control, half, why } = of;
  const unit = useUnit();
  const list = useReadings();
  const from = readingOf(list, `/tools/${of.index}/length`, tool.length);
  const mm = (value: number) => shown(value, "length", unit);
  const off = control === undefined ? 0 : control - wholeLength(tool);
  const differs = Math.abs(off) > SAME;
  const usable = differs && control !== undefined && !why && may("technician");
  return (
    <tr className="border-t border-rule-2 text-right" data-length={tool.number}>
      <td className="py-1 text-left">
        T{tool.number} <span className="text-ink-2">{tool.name}</span>
      </td>
      <td className="px-4">
        {mm(wholeLength(tool))}
        {from?.half_width_95 != null && <span className="text-ink-2"> ± {mm(from.half_width_95)}</span>}
        <RestsOn reading={from} />
      </td>
      <td className="px-4">{control === undefined ? "" : mm(control)}</td>
      <td className="px-4" title={of.assumed.join("; ")}>
        {half === null ? "" : mm(half)}
        {of.assumed.length > 0 && <span className="block text-[13px] text-warn">{of.assumed.join("; ")}</span>}
      </td>
      <td className="px-4">{differs ? `${off > 0 ? "+" : "−"}${mm(Math.abs(off))}` : ""}</td>
      <td className="text-left">
        {differs && why && <span className="text-[14px] text-warn">{why}</span>}
        {usable && (
          <button
            type="button"
            className="link"
            aria-label={`Use the length of T${tool.number}`}
            disabled={half === null}
            onClick={onTake}
          >
            use it
          </button>
        )}
        {usable && (
          <button
            type="button"
            className="link ml-3"
            aria-label={`Use T${tool.number} as wear`}
            onClick={() => onWear(control)}
          >
            as wear
          </button>
        )}
      </td>
    </tr>
  );
}
