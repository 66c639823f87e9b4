/** The Tools stage: the tools drawn beside one another to scale, hanging from the gauge line, above their table. */
import { Download, Plus, Trash2, Upload } from "lucide-react";
import { Fragment, memo, useCallback, useMemo, useState } from "react";
import type { Fault, Kind, Tool } from "../../api/client";
import { AcrossDimension, Figure } from "../../drawing/dimension";
import { useSize } from "../../drawing/use-size";
import { FindingItem } from "../../findings/findings";
import { shown, unitOf } from "../../quantity/format";
import { QuantityInput } from "../../quantity/quantity-input";
import { told, useUnit } from "../../quantity/rows";
import { TextInput } from "../../quantity/text-input";
import { Panels } from "../../shell/panels";
import { may } from "../../shell/session";
import { Views } from "../../shell/views";
import { useWork } from "../../work/store";
import { heightsOf, pocketCount, standingIn } from "../changer/of-changer";
import { useStyle } from "../changer/styles";
import { BasesView } from "./bases";
import { BringInTools } from "./bring-in";
import { useChosen } from "./chosen";
import { type Hanging, hanging } from "./hanging";
import { outlineOf } from "./outline";
import { ToolPage } from "./tool-page";

const COLUMNS: [keyof Tool, string, Kind, string][] = [
  ["number", "T", "count", "w-20"],
  ["diameter", "Diameter", "length", "w-28"],
  ["length", "Length", "length", "w-28"],
  ["stick_out", "Stick-out", "length", "w-28"],
  ["shank_above", "Shank above", "length", "w-28"],
];

/** A shank stands into the spindle's bore only where a nut holds the tool. */
function useColumns() {
  const threaded = useStyle()?.holds === "nut";
  return COLUMNS.filter(([field]) => threaded || field !== "shank_above");
}

const VIEWS = {
  table: ["Tools", ToolsView],
  bases: ["Lengths by basis", BasesView],
} as const;

export default function ToolsStage() {
  const [view, setView] = useState<keyof typeof VIEWS>("table");
  return <Panels name="tools" middle={<Views views={VIEWS} view={view} onView={setView} />} right={<ToolPage />} />;
}

function ToolsView() {
  const tools = useWork((work) => work.document?.tools) ?? [];
  const conflicts =
    useWork((work) => work.answer?.conflicts)?.filter((entry) => entry.quantity?.startsWith("/tools")) ?? [];
  const [trouble, setTrouble] = useState<{ row: number; text: string } | null>(null);
  const { chosen, choose } = useChosen();
  const tell = useCallback((row: number, faults: Fault[]) => {
    setTrouble(faults.length ? { row, text: faults.map((fault) => fault.what).join(" ") } : null);
    return faults;
  }, []);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[minmax(200px,44%)_minmax(0,1fr)] overflow-hidden">
      <ToolsSheet tools={tools} chosen={chosen} onChoose={choose} />
      <div className="overflow-auto border-t border-rule bg-panel">
        <Actions onAdded={() => choose(tools.length)} tell={(faults) => tell(tools.length, faults)} />
        <ul>
          {conflicts.map((entry) => (
            <FindingItem key={entry.message} finding={entry} />
          ))}
        </ul>
        {!tools.length && <p className="px-4 text-ink-2">No tools yet. Add the first one; then give it a pocket.</p>}
        {tools.length > 0 && <Table tools={tools} chosen={chosen} onChoose={choose} trouble={trouble} tell={tell} />}
      </div>
    </div>
  );
}

function Actions({ onAdded, tell }: { onAdded: () => void; tell: (faults: Fault[]) => Fault[] }) {
  const count = useWork((work) => work.document?.tools.length) ?? 0;
  const slug = useWork((work) => work.slug);
  const [bringing, setBringing] = useState(false);
  async function add() {
    const faults = await useWork.getState().edit("/tools", (now: Tool[]) => {
      const number = Math.max(0, ...now.map((tool) => tool.number)) + 1;
      return [...now, { number, name: "", diameter: 6, length: 60, stick_out: 40, pocket: null }];
    });
    tell(faults);
    onAdded();
  }
  return (
    <div className="flex flex-wrap items-center gap-3 px-4 py-2">
      <h2 className="font-semibold">
        Tools <span className="font-normal text-ink-3">{count}</span>
      </h2>
      {may("technician") && (
        <>
          <button type="button" className="button plain" onClick={() => void add()}>
            <Plus size={16} /> Add a tool
          </button>
          <button type="button" className="button plain" onClick={() => setBringing(true)}>
            <Upload size={15} /> Bring in a table
          </button>
        </>
      )}
      <a className="button plain" href={`/api/machines/${slug}/tools.csv`}>
        <Download size={15} /> CSV
      </a>
      <a className="button plain" href={`/api/machines/${slug}/tools.xlsx`}>
        <Download size={15} /> XLSX
      </a>
      <span className="text-[13.5px] text-ink-3">Length: gauge line to tip. Stick-out: below nut or holder.</span>
      {bringing && <BringInTools onClose={() => setBringing(false)} />}
    </div>
  );
}

interface TableProps {
  tools: Tool[];
  chosen: number;
  onChoose: (index: number) => void;
  trouble: { row: number; text: string } | null;
  tell: (row: number, faults: Fault[]) => Fault[];
}

/** What each pocket has, as it is offered: for every tool the others are told. */
type Choices = { pocket: number; what: string; tool: number }[];

function pocketChoices(count: number, standing: Map<number, string>, tools: Tool[]): Choices {
  const holders = new Map(tools.filter((tool) => tool.pocket).map((tool) => [tool.pocket, tool.number]));
  return Array.from({ length: count }, (_, at) => ({
    pocket: at + 1,
    what: standing.get(at + 1) ?? "",
    tool: holders.get(at + 1) ?? 0,
  }));
}

function Table({ tools, chosen, onChoose, trouble, tell }: TableProps) {
  const unit = useUnit();
  const columns = useColumns();
  const count = useWork((work) => pocketCount(work.document?.changer));
  const standing = standingIn(useWork((work) => work.document));
  const key = JSON.stringify([count, [...standing], tools.map((tool) => [tool.number, tool.pocket])]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key has all of it; rows are drawn anew only where it changes
  const choices = useMemo(() => pocketChoices(count, standing, tools), [key]);
  return (
    <table className="mx-4 mb-4">
      <thead>
        <tr className="border-b border-rule text-ink-2">
          <th className="py-1 pr-3 text-right font-normal">T</th>
          <th className="px-2 text-left font-normal">Name</th>
          {columns.slice(1).map(([, title]) => (
            <th key={title} className="px-2 text-right font-normal">
              {title}, {unitOf("length", unit)}
            </th>
          ))}
          <th className="px-2 text-right font-normal">Pocket</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {tools.map((tool, index) => (
          <Row
            key={tool.number}
            tool={tool}
            index={index}
            chosen={chosen === index}
            choices={choices}
            onChoose={onChoose}
            trouble={trouble?.row === index ? trouble.text : null}
            tellRow={tell}
          />
        ))}
      </tbody>
    </table>
  );
}

interface RowProps {
  tool: Tool;
  index: number;
  chosen: boolean;
  choices: Choices;
  onChoose: (index: number) => void;
  trouble: string | null;
  tellRow: (row: number, faults: Fault[]) => Fault[];
}

type Says = { text: string; wrong: boolean } | null;

const Row = memo(function Row({ tool, index, chosen, choices, onChoose, trouble, tellRow }: RowProps) {
  const tell = (faults: Fault[]) => tellRow(index, faults);
  const unit = useUnit();
  const [says, setSays] = useState<Says>(null);
  const { edit } = useWork.getState();
  const readOnly = !may("technician");
  const columns = useColumns();
  const base = `/tools/${index}`;
  const line = trouble ?? says?.text;
  return (
    <>
      <tr
        className={`border-b border-rule-2 ${chosen ? "bg-now-wash shadow-[inset_3px_0_var(--now)]" : ""}`}
        onFocus={() => onChoose(index)}
      >
        {columns.map(([field, title, kind, wide]) => (
          <Fragment key={field}>
            <td className={`table-cell px-2 py-1 ${wide}`}>
              <QuantityInput
                label={`T${tool.number} ${title === "T" ? "number" : title.toLowerCase()}`}
                value={(tool[field] as number | undefined) ?? 0}
                kind={kind}
                unit={unit}
                pointer={`${base}/${field}`}
                readOnly={readOnly}
                onCommit={(value) => edit(`${base}/${field}`, value).then(tell)}
                onSays={setSays}
              />
            </td>
            {field === "number" && (
              <NameCell tool={tool} base={base} readOnly={readOnly} tell={tell} onSays={setSays} />
            )}
          </Fragment>
        ))}
        <td className="w-36 px-2">
          <PocketChoice tool={tool} base={base} readOnly={readOnly} tell={tell} choices={choices} />
        </td>
        <td>{!readOnly && <Remove tool={tool} tell={tell} />}</td>
      </tr>
      {line && (
        <tr>
          <td colSpan={8}>
            <p className={`says ${trouble || says?.wrong ? "wrong" : "understood"}`} role="alert">
              {line}
            </p>
          </td>
        </tr>
      )}
    </>
  );
});

interface CellProps {
  tool: Tool;
  base: string;
  readOnly: boolean;
  tell: (faults: Fault[]) => Fault[];
}

function NameCell({ tool, base, readOnly, tell, onSays }: CellProps & { onSays: (says: Says) => void }) {
  const { edit } = useWork.getState();
  return (
    <td className="table-cell w-56 px-2">
      <TextInput
        className="text-left!"
        label={`T${tool.number} name`}
        readOnly={readOnly}
        value={tool.name}
        onTake={async (text) => told(tell(await edit(`${base}/name`, text)))}
        onSays={(says) => onSays(says ? { text: says, wrong: true } : null)}
      />
    </td>
  );
}

function PocketChoice({ tool, base, readOnly, tell, choices }: CellProps & { choices: Choices }) {
  const { edit } = useWork.getState();
  return (
    <select
      className="choice"
      aria-label={`T${tool.number} pocket`}
      value={tool.pocket ?? ""}
      disabled={readOnly}
      onChange={(event) =>
        void edit(`${base}/pocket`, event.currentTarget.value ? Number(event.currentTarget.value) : null).then(tell)
      }
    >
      <option value="">none</option>
      {choices.map(({ pocket, what, tool: other }) => (
        <option key={pocket} value={pocket}>
          {pocket}
          {what ? ` (${what})` : other && other !== tool.number ? ` (T${other})` : ""}
        </option>
      ))}
    </select>
  );
}

function Remove({ tool, tell }: Pick<CellProps, "tool" | "tell">) {
  const { edit } = useWork.getState();
  return (
    <button
      type="button"
      className="button plain border-0! bg-transparent! px-3!"
      aria-label={`Remove T${tool.number}`}
      title={`Remove T${tool.number}`}
      onClick={() =>
        void edit("/tools", (now: Tool[]) => now.filter((entry) => entry.number !== tool.number)).then(tell)
      }
    >
      <Trash2 size={16} />
    </button>
  );
}

function ToolsSheet({ tools, chosen, onChoose }: { tools: Tool[]; chosen: number; onChoose: (index: number) => void }) {
  const magazine = useWork((work) => work.answer?.scene?.magazine);
  const depth = useWork((work) => heightsOf(work.document?.changer)?.pocket_depth);
  const unit = useUnit();
  const { element, width, height } = useSize<HTMLDivElement>();
  const hang = hanging(tools, magazine?.radius ?? 14, magazine?.above ?? 0, depth, { width, height });
  const tool = tools[chosen];
  return (
    <div ref={element} data-drawing className="bg-sheet">
      <svg width={width} height={height} role="group" aria-label="The tools, to scale">
        <title>The tools beside one another, hanging from the gauge line</title>
        <path d={`M20 ${hang.gauge}H${width - 16}`} className="line-level" />
        <text x="20" y={hang.gauge - 6} className="caption">
          gauge line
        </text>
        {depth !== undefined && (
          <>
            <path d={`M20 ${hang.at(depth)}H${width - 16}`} className="line-hidden" />
            <text x="20" y={hang.at(depth) - 6} className="caption">
              pocket depth {shown(depth, "length", unit, true)}
            </text>
          </>
        )}
        {tools.map((entry, index) => (
          <Hung
            key={entry.number}
            tool={entry}
            hang={hang}
            x={hang.middle(index)}
            foot={height - 12}
            chosen={index === chosen}
            onChoose={() => onChoose(index)}
          />
        ))}
        {tool && <Lengths tool={tool} index={chosen} x={hang.middle(chosen)} hang={hang} />}
      </svg>
    </div>
  );
}

interface HungProps {
  tool: Tool;
  hang: Hanging;
  x: number;
  foot: number;
  chosen: boolean;
  onChoose: () => void;
}

/** A tool in its nut or holder, and the nose that it hangs in. */
function Hung({ tool, hang, x, foot, chosen, onChoose }: HungProps) {
  const nose = useWork((work) => work.answer?.scene?.spindle[0]?.radius);
  const byHand = useStyle()?.anyTool;
  const { at, wide, nut, engaged } = hang;
  const low = tool.length - tool.stick_out;
  const line = chosen ? "line-now" : "line-outline";
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: see above
    <g onClick={onChoose} style={{ cursor: "pointer" }}>
      {nose && <Block x={x} half={wide(nose)} top={at(-engaged - 16)} bottom={at(0)} className="line-thin" dashed />}
      <path
        d={outlineOf(tool, { x, half: wide(tool.diameter / 2), top: at(low), tip: at(tool.length), scale: wide(1) })}
        fill="var(--tool)"
        className={line}
        data-outline={tool.type}
      />
      <Block x={x} half={wide(nut)} top={at(-engaged)} bottom={at(low)} fill="var(--steel)" className={line} />
      <path d={`M${x} ${at(-engaged - 20)}V${at(tool.length) + 8}`} className="line-centre" />
      <text x={x} y={20} textAnchor="middle" style={{ fontWeight: 600, fill: chosen ? "var(--now)" : undefined }}>
        T{tool.number}
      </text>
      <text x={x} y={foot} textAnchor="middle" className="caption">
        {tool.pocket ? `pocket ${tool.pocket}` : byHand ? "" : "no pocket"}
      </text>
    </g>
  );
}

interface BlockProps {
  x: number;
  half: number;
  top: number;
  bottom: number;
  fill?: string;
  className: string;
  dashed?: boolean;
}

function Block({ x, half, top, bottom, fill = "none", className, dashed }: BlockProps) {
  return (
    <rect
      x={x - half}
      y={top}
      width={2 * half}
      height={bottom - top}
      fill={fill}
      className={className}
      strokeDasharray={dashed ? "4 3" : undefined}
    />
  );
}

function Lengths({ tool, index, x, hang }: { tool: Tool; index: number; x: number; hang: Hanging }) {
  const unit = useUnit();
  const half = hang.wide(tool.diameter / 2);
  const { gauge } = hang;
  const tip = hang.at(tool.length);
  return (
    <g>
      <path d={`M${x + half} ${tip}H${x + 44}M${x + 44} ${gauge}V${tip}`} className="line-dimension" fill="none" />
      <Figure
        label="Length"
        x={x + 44}
        y={(gauge + tip) / 2}
        text={shown(tool.length, "length", unit, true)}
        pointer={`/tools/${index}/length`}
      />
      {half > 26 && (
        <AcrossDimension x1={x - half} x2={x + half} y={tip + 34} text={shown(tool.diameter, "length", unit, true)} />
      )}
    </g>
  );
}
