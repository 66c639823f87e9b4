/** The Changer stage. */
import { ArrowRight } from "lucide-react";
import type { Tool } from "../../api/client";
import { useStyle } from "../../changers";
import { hasPockets } from "../../changers/of-changer";
import { useHandOver } from "../../common/hand-over";
import { FOOT, Panels } from "../../common/panels";
import { Views } from "../../common/views";
import { HeldTool } from "../../drawing/bodies";
import { useUnit } from "../../fields/rows";
import { Closest } from "../../findings/closest";
import { FindingsPanel } from "../../findings/findings";
import { ProgramView } from "../../program/program-view";
import { fixed, shown, unitOf } from "../../quantity/format";
import { AtThisBlock } from "../../score/at-block";
import { scoreHeight } from "../../score/lanes";
import { Score } from "../../score/score";
import { UnderFault } from "../../score/under-fault";
import { useInAddress } from "../../session/address";
import { chooseExchange, pickTool } from "../../work/choosing";
import { usePreview, useSetup, useTrace } from "../../work/document";
import { useSelection } from "../../work/selection";

import { AlignmentView } from "./alignment";
import { PocketTable } from "./pocket-table";
import { RecoveryView } from "./recovery";
import { ChangerSchedule } from "./schedule";
import { ChangerSheet } from "./sheet";

export default function ChangerStage() {
  const changer = useSetup((setup) => setup?.changer);
  const has = Boolean(changer);
  const names: View[] = !changer
    ? []
    : "rack" in changer
      ? ["sheet", "pockets", "table", "stop"]
      : hasPockets(changer)
        ? ["sheet", "table", "stop"]
        : ["sheet", "stop"];
  const [view, setView] = useInAddress("view", names, "sheet");
  const views = Object.fromEntries(names.map((name) => [name, VIEWS[name]])) as Pick<typeof VIEWS, View>;
  const footSize = scoreHeight(useTrace(), FOOT);
  return (
    <Panels
      key={view === "sheet" ? "with-score" : "without"}
      name={view === "sheet" ? "changer" : "changer-pockets"}
      left={<ChangerSchedule />}
      middle={has ? <Views views={views} view={view} onView={setView} /> : <div className="h-full bg-sheet" />}
      right={has && view === "sheet" && <Side />}
      footSize={footSize}
      foot={has && view === "sheet" ? [<Score key="score" />, <ProgramView key="text" />] : undefined}
    />
  );
}

const VIEWS = {
  sheet: ["Sheet", ChangerSheet],
  pockets: ["Where the pockets are", AlignmentView],
  table: ["Pocket table", PocketTable],
  stop: ["After a stop", RecoveryView],
} as const;

type View = keyof typeof VIEWS;

const NONE: never[] = [];

function Side() {
  const exchange = usePreview((answer) => answer?.exchange);
  const conflicts = usePreview((answer) => answer?.conflicts) ?? NONE;
  return (
    <>
      <ExchangeChoice />
      <UnderFault />
      <FindingsPanel findings={[...conflicts, ...(exchange?.findings ?? [])]} />
      <Closest passed={exchange?.passed ?? NONE} />
      <AtThisBlock />
    </>
  );
}

function ExchangeChoice() {
  const tools = useSetup((setup) => setup?.tools) ?? NONE;
  const pair = useSelection((work) => work.pair);
  const picked = useSelection((work) => work.picked);
  const seconds = useTrace()?.seconds;
  const byHand = useStyle()?.anyTool;
  const stored = tools.filter((tool) => byHand || tool.pocket !== null).sort((a, b) => a.number - b.number);
  if (!stored.length)
    return (
      <p className="border-b border-rule p-3.5 text-ink-2">
        {byHand ? "Enter a tool" : "Store a tool in a pocket"} on the Tools stage; then its exchange is worked out here.
      </p>
    );
  return (
    <section className="border-b border-rule px-3.5 pt-2.5 pb-3" aria-label="Exchange">
      <div className="text-ink-2">Exchange</div>
      <div className="mt-1 flex items-center gap-2 text-[16px]">
        <ToolChoice which="from" stored={stored} /> <ArrowRight size={20} /> <ToolChoice which="to" stored={stored} />
        {seconds !== undefined && <span className="text-ink-2">{fixed(seconds, 1)} s</span>}
      </div>
      <p className="mt-1.5 text-[13.5px] text-ink-3">
        {byHand
          ? "The text asks for the tool by its number and name."
          : picked === null
            ? "Or two clicks on pockets of the plan."
            : picked === 0
              ? "From the empty spindle; now the pocket to fetch."
              : `From T${picked}; now the next pocket.`}
      </p>
      {byHand && <ToolRequest tool={tools.find((tool) => tool.number === pair?.to)} />}
      {picked !== null && picked !== 0 && (
        <button type="button" className="link text-[13.5px]" onClick={() => pickTool(0)}>
          to the empty spindle
        </button>
      )}
      {picked === null && !byHand && (
        <button type="button" className="link text-[13.5px]" onClick={() => pickTool(0)}>
          from the empty spindle
        </button>
      )}
    </section>
  );
}

function ToolChoice({ which, stored }: { which: "from" | "to"; stored: Tool[] }) {
  const pair = useSelection((work) => work.pair);
  const keys = useHandOver();
  return (
    <select
      className="choice min-h-10! w-auto! border border-ink! rounded-xs px-1 text-left!"
      aria-label={which === "from" ? "Tool in the spindle" : "Requested tool"}
      value={pair?.[which] ?? 0}
      onChange={(event) => {
        const number = Number(event.currentTarget.value);
        const other = pair?.[which === "from" ? "to" : "from"] ?? 0;
        const free = [0, ...stored.map((tool) => tool.number)].find((entry) => entry !== number) ?? 0;
        const rest = other === number ? free : other;
        void chooseExchange(which === "from" ? { from: number, to: rest } : { from: rest, to: number });
        keys.chosen();
      }}
      onKeyDown={keys.onKeyDown}
    >
      <option value={0}>empty</option>
      {stored.map((tool) => (
        <option key={tool.number} value={tool.number}>
          T{tool.number}
        </option>
      ))}
    </select>
  );
}

/** The tool that is asked for, to scale, as a person picks it from the bench. */
function ToolRequest({ tool }: { tool: Tool | undefined }) {
  const scene = usePreview((answer) => answer?.scene);
  const unit = useUnit();
  const drawn = scene?.tools.find((entry) => entry.number === tool?.number);
  if (!tool || !drawn || !scene) return null;
  const scale = Math.min(2, 150 / drawn.length);
  const to = { scale, atZ: (z: number) => 14 - z * scale };
  const mm = (value: number) => `${shown(value, "length", unit, true)} ${unitOf("length", unit)}`;
  return (
    <figure className="mt-2 flex gap-3" data-asked={tool.number}>
      <svg
        width="80"
        height={drawn.length * scale + 24}
        role="img"
        aria-label={`T${tool.number} ${tool.name}, to scale`}
      >
        <title>{`T${tool.number} ${tool.name}`}</title>
        <path d="M6 14H74" className="line-level" />
        <HeldTool tool={drawn} magazine={scene.magazine} x={40} z={0} to={to} />
      </svg>
      <figcaption className="text-[14px]">
        <b className="block text-[17px]">T{tool.number}</b>
        {tool.name}
        <span className="mt-1 block text-ink-2">
          {mm(tool.diameter)} across
          <br />
          {mm(tool.length)} long
        </span>
      </figcaption>
    </figure>
  );
}
