/** What the control has measured beside what is on record; a length is taken over as a reading. */
import { useState } from "react";
import type { Tool } from "../../api/client";
import { shown, unitOf } from "../../quantity/format";
import { told, useUnit } from "../../quantity/rows";
import { when } from "../../quantity/when";
import { readingOf, useReadings } from "../../readings/readings";
import { may } from "../../shell/session";
import { useWork } from "../../work/store";
import { takeLength, takeWear, wholeLength } from "../tools/lengths";
import { usePages } from "./pages";

const MEASURED = "measured at the setter";

export function Lengths() {
  const tools = useWork((work) => work.document?.tools) ?? [];
  const pages = usePages();
  const unit = useUnit();
  const [trouble, setTrouble] = useState("");
  const off = (tool: Tool) => (pages?.lengths[tool.number] ?? wholeLength(tool)) - wholeLength(tool);
  const measured = tools.filter((tool) => Math.abs(off(tool)) > 1e-6);
  const all = async () => {
    const said = [];
    for (const tool of measured)
      said.push(await takeLength(tool, pages?.lengths[tool.number] ?? wholeLength(tool), MEASURED, true));
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
        <button type="button" className="button first mt-2" onClick={() => void all()}>
          Use all {measured.length}
        </button>
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
            <th className="px-4 font-normal">longer by</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {tools.map((tool, index) => (
            <Line
              key={tool.number}
              tool={tool}
              index={index}
              control={pages?.lengths[tool.number]}
              onTake={(value) => void takeLength(tool, value, MEASURED, true).then(setTrouble)}
              onWear={(value) => void takeWear(tool, value, MEASURED).then(setTrouble)}
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
  const measuring = useWork((work) => work.answer?.measuring);
  const number = measuring?.sequence === "measure" ? measuring.tools.at(-1) : undefined;
  const index = useWork((work) => work.document?.tools.findIndex((tool) => tool.number === number) ?? -1);
  const tool = useWork((work) => work.document?.tools[index]);
  const [said, setSaid] = useState("");
  const found = pages?.parameters[measuring?.diameter_parameter ?? 0];
  if (!tool || tool.edge_height == null || found === undefined || Math.abs(found - tool.diameter) < 1e-6) return null;
  const mm = (value: number) => `${shown(value, "length", unit)} ${unitOf("length", unit)}`;
  const take = async () => {
    const quantity = `/tools/${index}/diameter`;
    const how = "touched from two sides at the setter";
    const trouble = await useReadings.getState().take({ quantity, source: "typed", value: found, how });
    setSaid(trouble || told(await useWork.getState().edit(quantity, found)));
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
  tool: Tool;
  index: number;
  control: number | undefined;
  onTake: (value: number) => void;
  onWear: (value: number) => void;
}

function Line({ tool, index, control, onTake, onWear }: LineProps) {
  const unit = useUnit();
  const list = useReadings((readings) => readings.list);
  const from = readingOf(list, `/tools/${index}/length`, tool.length);
  const mm = (value: number) => shown(value, "length", unit);
  const off = control === undefined ? 0 : control - wholeLength(tool);
  const differs = Math.abs(off) > 1e-6;
  return (
    <tr className="border-t border-rule-2 text-right" data-length={tool.number}>
      <td className="py-1 text-left">
        T{tool.number} <span className="text-ink-2">{tool.name}</span>
      </td>
      <td className="px-4">
        {mm(wholeLength(tool))}
        <span className="block text-[13px] text-ink-3">{from ? `measured ${when(from.taken)}` : "typed"}</span>
      </td>
      <td className="px-4">{control === undefined ? "" : mm(control)}</td>
      <td className="px-4">{differs ? `${off > 0 ? "+" : "−"}${mm(Math.abs(off))}` : ""}</td>
      <td className="text-left">
        {differs && control !== undefined && may("technician") && (
          <button
            type="button"
            className="link"
            aria-label={`Use the length of T${tool.number}`}
            onClick={() => onTake(control)}
          >
            use it
          </button>
        )}
        {differs && control !== undefined && may("technician") && (
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
