/** After a stopped exchange: for each block in which it may have stopped what is where, the way out, and setting the record. */
import { useEffect, useRef, useState } from "react";
import { client, type Tool } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { useLive } from "../../live/live";
import { may } from "../../session/session";
import { setupNow, useMachine, useSetup } from "../../work/document";
import { edit } from "../../work/editing";
import { useSelection } from "../../work/selection";

type Sheet = NonNullable<Awaited<ReturnType<typeof ask>>["data"]>;
type Stretch = Sheet["stretches"][number];

function ask(from_tool: number, to_tool: number) {
  const document = setupNow();
  return client.POST("/api/recovery", { body: { document: document ?? {}, from_tool, to_tool } });
}

export function RecoveryView() {
  const pair = useSelection((work) => work.pair);
  const revision = useSetup();
  const [line, setLine] = useState<number | null>(null);
  const { from, to } = pair ?? { from: 0, to: 0 };
  const { data: sheet, trouble } = useAnswer(from === to ? null : ["recovery", nameOf(revision), from, to], () =>
    ask(from, to),
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: another exchange or Setup has other lines
  useEffect(() => setLine(null), [from, to, revision]);
  if (from === to)
    return (
      <p className="p-5 text-ink-2">
        Store a tool, and choose an exchange on the sheet; then this shows what to do after a stop.
      </p>
    );
  const rows = sheet?.stretches ?? [];
  const mine = line === null ? [] : rows.filter((row) => row.lines.includes(line));
  return (
    <div className="grid h-full grid-cols-[minmax(420px,1.25fr)_minmax(300px,1fr)] overflow-hidden bg-sheet max-[1100px]:grid-cols-1 max-[1100px]:overflow-auto">
      <div className="overflow-auto px-5 py-3">
        <h2 className="font-semibold">
          Stopped on the way from {named(from)} to {named(to)}: in which block?
        </h2>
        <p className="pb-2 text-[14.5px] text-ink-2">
          The control shows its block. Where it does not, go through the rows: look, and pick the one that fits.
        </p>
        {trouble && <p className="says wrong">{trouble}</p>}
        <Stretches rows={rows} line={line} onLine={setLine} />
      </div>
      <div className="overflow-auto border-l border-rule px-5 py-3">
        {line === null || !sheet ? (
          <p className="text-ink-2">Pick the block, or let the machine report it.</p>
        ) : (
          <Settle key={line} line={line} rows={mine} sheet={sheet} />
        )}
      </div>
    </div>
  );
}

function named(tool: number): string {
  return tool ? `T${tool}` : "the empty spindle";
}

function Stretches({ rows, line, onLine }: { rows: Stretch[]; line: number | null; onLine: (line: number) => void }) {
  const reported = useLive((live) => live.reported?.line ?? 0);
  const block = useLive((live) => live.reported?.block ?? "");
  const stopped = useLive(
    (live) => live.reported?.execution === "INTERRUPTED" || live.reported?.execution === "STOPPED",
  );
  const known = rows.some((row) => row.lines.includes(reported));
  const takes = useRef(onLine);
  takes.current = onLine;
  useEffect(() => {
    if (known && stopped) takes.current(reported); // nobody has to copy what the machine reports
  }, [known, stopped, reported]);
  return (
    <>
      {known && (
        <button type="button" className="button plain mb-2" onClick={() => onLine(reported)}>
          The machine's block is line {reported}: <code className="pl-1 text-[13px]">{block.slice(0, 44)}</code>
        </button>
      )}
      <table className="w-full" aria-label="Stretches of the exchange">
        <thead>
          <tr className="text-left text-[13px] text-ink-3">
            <th className="font-normal">lines</th>
            <th className="font-normal">the record says</th>
            <th className="font-normal">there is</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const chosen = line !== null && row.lines.includes(line);
            const first = row.lines[0] as number;
            return (
              <tr
                key={`${first}-${row.says}-${row.out.join()}`}
                className={`border-t border-rule-2 align-top ${chosen ? "bg-now-wash" : ""}`}
                data-stretch={first}
              >
                <td className="w-28">
                  <button type="button" className="link min-h-10 text-left" onClick={() => onLine(first)}>
                    {row.lines.length === 1 ? first : `${first} to ${row.lines.at(-1)}`}
                  </button>
                </td>
                <td className="w-28 py-2">
                  {row.doubtful ? <span className="text-warn">doubtful</span> : row.record ? `T${row.record}` : "empty"}
                </td>
                <td className="py-2 text-[14.5px] leading-snug">{row.says}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}

/** Tools that have changed their pockets, in the document too: what stood in such a pocket takes the one that became free. */
async function takeOver(pockets: number[][]): Promise<string> {
  const moved = new Map(pockets.map(([pocket, tool]) => [tool, pocket] as const).filter(([tool]) => tool));
  const faults = await edit("/tools", (before: Tool[]) => {
    const taken = new Set(moved.values());
    const free = before.filter((tool) => moved.has(tool.number)).map((tool) => tool.pocket);
    return before.map((tool) => {
      const pocket = moved.get(tool.number);
      if (pocket !== undefined) return { ...tool, pocket };
      return tool.pocket && taken.has(tool.pocket) ? { ...tool, pocket: free.shift() ?? null } : tool;
    });
  });
  return faults.length ? faults.map((fault) => fault.what).join(" ") : "The pocket table has it.";
}

function Settle({ line, rows, sheet }: { line: number; rows: Stretch[]; sheet: Sheet }) {
  const found = rows.flatMap((row) => row.found);
  const likely = found.find((way) => way.holds !== null)?.holds ?? 0;
  const [seen, setSeen] = useState(likely);
  const way = found.find((entry) => entry.holds === seen);
  return (
    <section aria-label="Correct the record">
      <h3 className="font-semibold">Line {line}</h3>
      {rows.map((row) => (
        <p key={row.says} className="text-[15px]">
          {row.says}
        </p>
      ))}
      <WayOut steps={[...new Set(rows.flatMap((row) => row.out))]} />
      <Look seen={seen} onSeen={setSeen} way={way} loose={found.some((entry) => entry.holds === null)} />
      <SetRecord seen={seen} pockets={sheet.record.of_pocket ? (way?.pockets ?? []) : []} sheet={sheet} />
    </section>
  );
}

function WayOut({ steps }: { steps: string[] }) {
  if (!steps.length) return null;
  return (
    <>
      <h4 className="pt-3 font-semibold">The way out, before homing</h4>
      <ol className="list-decimal pl-5 text-[15px] leading-snug">
        {steps.map((entry) => (
          <li key={entry}>{entry}</li>
        ))}
      </ol>
    </>
  );
}

interface LookProps {
  seen: number;
  onSeen: (tool: number) => void;
  way: Stretch["found"][number] | undefined;
  /** whether a tool may be neither held nor free */
  loose: boolean;
}

function Look({ seen, onSeen, way, loose }: LookProps) {
  const tools = useSetup((setup) => setup?.tools) ?? [];
  return (
    <>
      <h4 className="pt-3 font-semibold">Look: what is in the spindle?</h4>
      <select
        className="choice min-h-10! w-auto! border border-ink! rounded-xs px-1 text-left!"
        aria-label="Seen in the spindle"
        value={seen}
        onChange={(event) => onSeen(Number(event.currentTarget.value))}
      >
        <option value={0}>nothing</option>
        {tools.map((tool) => (
          <option key={tool.number} value={tool.number}>
            T{tool.number} {tool.name}
          </option>
        ))}
      </select>
      {!way && (
        <p className="pt-1 text-[14px] text-warn">
          That does not fit this line: look again, or pick another line. What you see at the machine decides.
        </p>
      )}
      {loose && (
        <p className="pt-1 text-[14px] text-ink-2">
          A tool that is neither held nor free is taken out by hand and put into its pocket; then the spindle holds
          nothing.
        </p>
      )}
      {way && way.pockets.length > 0 && (
        <p className="pt-1 text-[14.5px]">
          Look into{" "}
          {way.pockets.map(([pocket, tool]) => `pocket ${pocket} (${tool ? `T${tool}` : "empty"})`).join(", ")} too.
        </p>
      )}
    </>
  );
}

function SetRecord({ seen, pockets, sheet }: { seen: number; pockets: number[][]; sheet: Sheet }) {
  const practice = useMachine((machine) => machine?.agent === "");
  const connected = useLive((live) => live.reported !== null);
  const [done, setDone] = useState("");
  const keyed = [
    ...sheet.record.of_tool.map((entry) => entry.replace("{tool}", String(seen))),
    ...pockets.map(([pocket, tool]) =>
      sheet.record.of_pocket.replace("{pocket}", String(pocket)).replace("{tool}", String(tool)),
    ),
  ];
  const set = async () => {
    const table = Object.fromEntries(pockets.map(([pocket, tool]) => [String(pocket), tool]));
    const answer = await useLive.getState().send({ do: "settle", number: seen, pockets: table });
    setDone(answer.refused ?? `Set: in the spindle is ${seen ? `T${seen}` : "no tool"}.`);
  };
  return (
    <>
      <h4 className="pt-3 font-semibold">Set the record</h4>
      <pre className="bg-panel p-2 text-[13.5px]" data-keyed>
        {keyed.join("\n")}
      </pre>
      {practice && (
        <button
          type="button"
          className="button first mt-2"
          disabled={!connected || !may("technician")}
          onClick={() => void set()}
        >
          Set it at the machine
        </button>
      )}
      {pockets.length > 0 && (
        <button
          type="button"
          className="button plain mt-2 ml-2"
          disabled={!may("technician")}
          onClick={() => void takeOver(pockets).then(setDone)}
        >
          Apply to the pocket table
        </button>
      )}
      {done && (
        <p className="pt-1" role="status">
          {done}
        </p>
      )}
    </>
  );
}
