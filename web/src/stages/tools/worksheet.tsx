/** A length in another way than the setter: against a reference tool, at a surface, from a presetter. Each a drawing of what
 * touches what, and the sum with its signs; what comes of it is taken as a reading. */
import { useState } from "react";
import { client, type Tool, type Worksheet } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { Amount } from "../../fields/amount";
import { useUnit } from "../../fields/rows";
import { useLive } from "../../live/live";
import { shown, unitOf } from "../../quantity/format";
import { takeLength, takeWear } from "../../readings/lengths";
import { may } from "../../session/session";
import { useSetup } from "../../work/document";
import { useChosen } from "./chosen";
import { Pick } from "./pick";
import { WorksheetDrawing } from "./worksheet-drawing";

export type Way = "setter" | "difference" | "surface" | "presetter";

const WAYS: [Way, string, string][] = [
  [
    "setter",
    "On the setter",
    "The tip has made the setter's input; enter the machine Z at the touch. A program on the Setter stage does it by itself.",
  ],
  [
    "difference",
    "Against a reference tool",
    "The reference tool has touched the surface and set the zero there; its length stays active. This tool touches the same surface, or a shim on it; enter what the readout shows.",
  ],
  [
    "surface",
    "At a surface",
    "The tip rests on a surface, or a shim on it, whose height is known from a work offset; enter the machine Z.",
  ],
  ["presetter", "From a presetter", "Enter what the presetter shows, and how much further its gauge line is away."],
];

export interface Typed {
  value: number | null;
  shim: number;
  height: number;
  offset: number;
  active: number | null;
  reference: number;
}

export function WorksheetView() {
  const tools = useSetup((setup) => setup?.tools) ?? [];
  const { chosen, choose } = useChosen();
  const [way, setWay] = useState<Way>("difference");
  const tool = tools[chosen] ?? tools[0];
  if (!tool) return <p className="h-full bg-sheet p-6 text-ink-2">No tools yet; add one in the first view.</p>;
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4">
      <div className="flex flex-wrap items-center gap-3">
        <select
          className="choice w-56! border border-ink! px-1 text-left! font-semibold"
          aria-label="Tool whose length it is"
          value={tool.number}
          onChange={(event) => choose(tools.findIndex((entry) => entry.number === Number(event.currentTarget.value)))}
        >
          {tools.map((entry) => (
            <option key={entry.number} value={entry.number}>
              T{entry.number} {entry.name}
            </option>
          ))}
        </select>
        <fieldset className="segmented" aria-label="Way">
          {WAYS.map(([name, label]) => (
            <button key={name} type="button" aria-pressed={way === name} onClick={() => setWay(name)}>
              {label}
            </button>
          ))}
        </fieldset>
      </div>
      <p className="mt-2 max-w-[70ch] text-[14.5px] text-ink-2">{WAYS.find(([name]) => name === way)?.[2]}</p>
      <Sheet key={`${way} ${tool.number}`} way={way} tool={tool} />
    </div>
  );
}

const NONE: never[] = [];

function Sheet({ way, tool }: { way: Way; tool: Tool }) {
  const document = useSetup();
  const tools = document?.tools ?? NONE;
  const offsets = document?.work_offsets ?? NONE;
  const live = useLive((state) => state.reported?.offset ?? null);
  const other =
    tools.find((entry) => entry.type === "reference tool" && entry !== tool) ?? tools.find((entry) => entry !== tool);
  const [typed, setTyped] = useState<Typed>({
    value: null,
    shim: 0,
    height: 0,
    offset: offsets[0]?.number ?? 1,
    active: null,
    reference: other?.number ?? 0,
  });
  const change = (part: Partial<Typed>) => setTyped((before) => ({ ...before, ...part }));
  const active = typed.active ?? live;
  const body = {
    document: document ?? {},
    tool: tool.number,
    way,
    value: typed.value ?? 0,
    shim: typed.shim,
    height: typed.height,
    offset: atOffset(way) ? typed.offset : null,
    active: atOffset(way) ? active : null,
    reference: way === "difference" ? typed.reference : null,
  };
  const { data, trouble } = useAnswer(
    typed.value === null ? null : ["worksheet", nameOf(document), JSON.stringify({ ...body, document: null })],
    () => client.POST("/api/tools/worksheet", { body }),
  );
  return (
    <div className="mt-3 grid grid-cols-[minmax(300px,1fr)_minmax(300px,1fr)] gap-6 max-[1100px]:grid-cols-1">
      <WorksheetDrawing
        way={way}
        tool={tool}
        reference={tools.find((entry) => entry.number === typed.reference)}
        typed={typed}
      />
      <div className="grid content-start gap-2">
        <Entries way={way} tool={tool} typed={typed} change={change} active={active} live={live} />
        {trouble && (
          <p role="alert" className="text-stop">
            {trouble}
          </p>
        )}
        {data && <Outcome sheet={data} tool={tool} />}
        {typed.value === null && (
          <p className="text-[14px] text-ink-3">The length stands here when the value is entered.</p>
        )}
      </div>
    </div>
  );
}

interface EntriesProps {
  way: Way;
  tool: Tool;
  typed: Typed;
  change: (part: Partial<Typed>) => void;
  active: number | null;
  live: number | null;
}

/** The ways in which a work offset tells where the surface is. */
const atOffset = (way: Way) => way === "difference" || way === "surface";

const VALUE: Record<Way, string> = {
  setter: "machine Z at the touch",
  difference: "the readout shows",
  surface: "machine Z",
  presetter: "the presetter shows",
};

function Entries({ way, tool, typed, change, active, live }: EntriesProps) {
  const document = useSetup();
  const tools = (document?.tools ?? NONE).filter((entry) => entry.number !== tool.number);
  const offsets = (document?.work_offsets ?? NONE).map((entry): [number, string] => [
    entry.number,
    `work offset ${entry.number}`,
  ]);
  return (
    <>
      {way === "difference" && (
        <Pick
          label="reference tool"
          value={typed.reference}
          choices={tools.map((entry) => [entry.number, `T${entry.number} ${entry.name}`])}
          onPick={(reference) => change({ reference })}
        />
      )}
      {atOffset(way) && (
        <>
          <Pick
            label="the surface was zeroed in"
            value={typed.offset}
            choices={offsets}
            onPick={(offset) => change({ offset })}
          />
          <Pick
            label={live === null ? "active now" : "active now, reported by the machine"}
            value={active ?? 0}
            choices={[[0, "not known"], ...offsets]}
            onPick={(number) => change({ active: number || null })}
          />
        </>
      )}
      <Amount label={VALUE[way]} value={typed.value ?? 0} onValue={(value) => change({ value })} />
      {way === "surface" && (
        <Amount label="the surface above that zero" value={typed.height} onValue={(height) => change({ height })} />
      )}
      {way === "presetter" && (
        <Amount label="its gauge line further away by" value={typed.height} onValue={(height) => change({ height })} />
      )}
      {atOffset(way) && <Amount label="shim" value={typed.shim} onValue={(shim) => change({ shim })} />}
    </>
  );
}

/** The sum with its signs, and taking it. */
function Outcome({ sheet, tool }: { sheet: Worksheet; tool: Tool }) {
  const unit = useUnit();
  const [said, setSaid] = useState("");
  const mm = (value: number) => `${shown(value, "length", unit, true)} ${unitOf("length", unit)}`;
  const off =
    Math.abs(sheet.off) < 1e-6
      ? "as on record"
      : `${mm(Math.abs(sheet.off))} ${sheet.off > 0 ? "longer" : "shorter"} than on record`;
  const done = (trouble: string, what: string) => setSaid(trouble || what);
  return (
    <section aria-label="Length found" className="mt-1 border-t border-ink pt-2" data-length={sheet.length}>
      <Terms sheet={sheet} tool={tool} mm={mm} />
      <p className="mt-1 text-[14.5px] text-ink-2">{off}</p>
      {sheet.says.map((text) => (
        <p key={text} role="alert" className="mt-1 text-warn">
          {text}
        </p>
      ))}
      {may("technician") && (
        <p className="mt-2 flex gap-2">
          <button
            type="button"
            className="button first"
            onClick={() =>
              void takeLength(tool, sheet.length, { how: sheet.how }).then((trouble) =>
                done(trouble, "Taken as a reading."),
              )
            }
          >
            Take it as the length
          </button>
          <button
            type="button"
            className="button plain"
            onClick={() =>
              void takeWear(tool, sheet.length, sheet.how).then((trouble) => done(trouble, "Taken as wear."))
            }
          >
            Take the difference as wear
          </button>
        </p>
      )}
      {said && (
        <p role="status" className="mt-1 text-[14.5px]">
          {said}
        </p>
      )}
    </section>
  );
}

function Terms({ sheet, tool, mm }: { sheet: Worksheet; tool: Tool; mm: (value: number) => string }) {
  return (
    <table className="text-[15px]">
      <tbody>
        {sheet.terms.map((term) => (
          <tr key={term.name}>
            <td className="pr-3 text-ink-3">{term.sign > 0 ? "+" : "−"}</td>
            <td className="pr-6 text-ink-2">{term.name}</td>
            <td className="text-right">{mm(term.value)}</td>
          </tr>
        ))}
        <tr className="border-t border-ink font-semibold">
          <td />
          <td className="pr-6">length of T{tool.number}</td>
          <td className="text-right">{mm(sheet.length)}</td>
        </tr>
      </tbody>
    </table>
  );
}
