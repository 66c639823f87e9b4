/** The Tools stage: the tools drawn beside one another to scale, hanging from the gauge line, above their table. */
import { Download, Plus, Printer, Upload } from "lucide-react";
import { useCallback, useRef, useState } from "react";
import type { Fault, Tool } from "../../api/client";
import { Panels } from "../../common/panels";
import { useSize } from "../../common/use-size";
import { Views } from "../../common/views";
import { FindingItem } from "../../findings/findings";
import { useInAddress, usePart } from "../../session/address";
import { may } from "../../session/session";
import { usePreview, useSetup, useSlug } from "../../work/document";
import { addToSetup } from "../../work/editing";
import { BasesView } from "./bases";
import { useChosen } from "./chosen";
import { ImportTools } from "./import-tools";
import { type Listing, listed } from "./listing";
import { ManyBar } from "./many";
import { ToolsSheet } from "./sheet";
import { ToolTable } from "./table";
import { ToolPage } from "./tool-page";
import { WorksheetView } from "./worksheet";

const VIEWS = {
  table: ["Tools", ToolsView],
  bases: ["Lengths by basis", BasesView],
  worksheet: ["A length by hand", WorksheetView],
} as const;

const NAMES = Object.keys(VIEWS) as (keyof typeof VIEWS)[];

const NONE: Tool[] = [];

export default function ToolsStage() {
  const [view, setView] = useInAddress("view", NAMES, "table");
  const tools = useSetup((setup) => setup?.tools) ?? NONE;
  const { chosen, choose } = useChosen();
  const number = tools[chosen]?.number;
  usePart("tool", number === undefined ? null : String(number), tools.length > 0, (asked) => {
    const index = tools.findIndex((tool) => String(tool.number) === asked);
    if (index >= 0) choose(index);
    return index >= 0;
  });
  return (
    <Panels
      name="tools"
      middle={<Views views={VIEWS} view={view} onView={setView} />}
      right={<ToolPage />}
      rightSize={360}
    />
  );
}

function ToolsView() {
  const tools = useSetup((setup) => setup?.tools) ?? NONE;
  const [trouble, setTrouble] = useState<{ row: number; text: string } | null>(null);
  const [listing, setListing] = useState<Listing>({ filter: "", by: "number", down: false });
  const { picked, pick, none } = usePicked();
  const [scrolled, setScrolled] = useState(0);
  const [pasted, setPasted] = useState("");
  const { element, height } = useSize<HTMLDivElement>();
  const { chosen, choose } = useChosen();
  const tell = useCallback((row: number, faults: Fault[]) => {
    setTrouble(faults.length ? { row, text: faults.map((fault) => fault.what).join(" ") } : null);
    return faults;
  }, []);
  // A row that is being worked in stays in its place until another is chosen: sorted while a number is typed, it would jump.
  const order = useOrder(tools, listing, chosen);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[minmax(200px,44%)_minmax(0,1fr)] overflow-hidden">
      <ToolsSheet tools={tools} order={order} chosen={chosen} onChoose={choose} />
      <div
        ref={element}
        className="overflow-auto border-t border-rule bg-panel"
        onScroll={(event) => setScrolled(event.currentTarget.scrollTop)}
      >
        <Actions
          listing={listing}
          onListing={setListing}
          shown={order.length}
          onAdded={() => choose(tools.length)}
          tell={(faults) => tell(tools.length, faults)}
        />
        {picked.size > 0 && (
          <ManyBar
            numbers={[...picked].filter((number) => tools.some((tool) => tool.number === number))}
            onDone={none}
          />
        )}
        <Conflicts />
        {pasted && (
          <p role="status" className="says understood">
            {pasted}
          </p>
        )}
        {!order.length && <Nothing count={tools.length} onAll={() => setListing({ ...listing, filter: "" })} />}
        {order.length > 0 && (
          <ToolTable
            tools={tools}
            order={order}
            listing={listing}
            onListing={setListing}
            picked={picked}
            onPick={pick}
            chosen={chosen}
            onChoose={choose}
            trouble={trouble}
            tell={tell}
            onPasted={setPasted}
            scrolled={scrolled}
            height={height}
          />
        )}
      </div>
    </div>
  );
}

function Conflicts() {
  const conflicts =
    usePreview((answer) => answer?.conflicts)?.filter((entry) => entry.quantity?.startsWith("/tools")) ?? [];
  return (
    <ul>
      {conflicts.map((entry) => (
        <FindingItem key={entry.message} finding={entry} />
      ))}
    </ul>
  );
}

/** The tools that are picked, by number. */
function usePicked() {
  const [picked, setPicked] = useState<Set<number>>(new Set());
  const pick = (numbers: number[], on: boolean) =>
    setPicked((before) => {
      const after = new Set(before);
      for (const number of numbers) on ? after.add(number) : after.delete(number);
      return after;
    });
  return { picked, pick, none: () => setPicked(new Set()) };
}

function Nothing({ count, onAll }: { count: number; onAll: () => void }) {
  if (!count) return <p className="px-4 text-ink-2">No tools yet. Add the first one; then give it a pocket.</p>;
  return (
    <p className="px-4 py-2 text-ink-2">
      No tool is called so.{" "}
      <button type="button" className="link" onClick={onAll}>
        Show all {count}
      </button>
    </p>
  );
}

/** The order of the table: made anew when the filter, the column, the number of tools or the tool that is worked in changes. */
function useOrder(tools: Tool[], listing: Listing, chosen: number): number[] {
  const key = JSON.stringify([listing, tools.map((tool) => tool.number), chosen]);
  const kept = useRef({ key: "", order: [] as number[] });
  if (kept.current.key !== key) kept.current = { key, order: listed(tools, listing) };
  return kept.current.order;
}

interface ActionsProps {
  listing: Listing;
  onListing: (listing: Listing) => void;
  shown: number;
  onAdded: () => void;
  tell: (faults: Fault[]) => Fault[];
}

function Actions({ listing, onListing, shown, onAdded, tell }: ActionsProps) {
  const count = useSetup((setup) => setup?.tools.length) ?? 0;
  const slug = useSlug();
  const [importing, setImporting] = useState(false);
  async function add() {
    const { faults } = await addToSetup({ what: "tool" });
    tell(faults);
    if (faults.length) return;
    onAdded();
  }
  return (
    <div className="flex flex-wrap items-center gap-3 px-4 py-2">
      <h2 className="font-semibold">
        Tools <span className="font-normal text-ink-3">{listing.filter ? `${shown} of ${count}` : count}</span>
      </h2>
      <input
        type="search"
        className="field w-44! border border-ink! text-left!"
        placeholder="Filter"
        aria-label="Filter the tools"
        value={listing.filter}
        onChange={(event) => onListing({ ...listing, filter: event.currentTarget.value })}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Escape") onListing({ ...listing, filter: "" });
        }}
      />
      {may("technician") && (
        <>
          <button type="button" className="button plain" onClick={() => void add()}>
            <Plus size={16} /> Add a tool
          </button>
          <button type="button" className="button plain" onClick={() => setImporting(true)}>
            <Upload size={15} /> Import a table
          </button>
        </>
      )}
      <a className="button plain" href={`/api/machines/${slug}/tools.csv`}>
        <Download size={15} /> CSV
      </a>
      <a className="button plain" href={`/api/machines/${slug}/tools.xlsx`}>
        <Download size={15} /> XLSX
      </a>
      <a className="button plain" href={`/api/machines/${slug}/tools.pdf`} target="_blank" rel="noreferrer">
        <Printer size={15} /> Tool sheet
      </a>
      {importing && <ImportTools onClose={() => setImporting(false)} />}
    </div>
  );
}
