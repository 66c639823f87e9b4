/** Which tool is where: moved by keys or by picking and placing; all at once by a supervisor; as CSV and XLSX out and in. */

import { Download, Upload } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { client, csrf, type PocketChanger, refusal, type Tool } from "../../api/client";
import { hasPockets, pocketCount, rackOf, standingIn } from "../../changers/of-changer";
import { Dialog } from "../../common/dialog";
import { useUnit } from "../../fields/rows";
import { useLive } from "../../live/live";
import { shown, unitOf } from "../../quantity/format";
import { may } from "../../session/session";
import { slugNow, useMachine, usePreview, useSetup, useSlug } from "../../work/document";
import { edit } from "../../work/editing";
import { flush, restored } from "../../work/saving";

type Preview = { rows: { row: number; changes: string; wrong: string }[]; tools: Tool[] | null };

/** Put a tool into a pocket; what was there goes where it came from. */
async function place(number: number, pocket: number | null): Promise<string> {
  const faults = await edit("/tools", (before: Tool[]) => {
    const from = before.find((tool) => tool.number === number)?.pocket ?? null;
    return before.map((tool) => {
      if (tool.number === number) return { ...tool, pocket };
      return pocket !== null && tool.pocket === pocket ? { ...tool, pocket: from } : tool;
    });
  });
  return faults.map((fault) => fault.what).join(" ");
}

export function PocketTable() {
  const changer = useSetup((setup) => setup?.changer);
  const [picked, setPicked] = useState<number | null>(null);
  const [trouble, setTrouble] = useState("");
  if (!changer || !hasPockets(changer)) return null;
  const move = async (number: number, pocket: number | null) => {
    setPicked(null);
    setTrouble(await place(number, pocket));
  };
  return (
    <div className="h-full overflow-auto bg-sheet px-5 py-3">
      <Actions />
      {trouble && (
        <p role="alert" className="py-1 text-stop">
          {trouble}
        </p>
      )}
      <p className="py-1 text-[14px] text-ink-2" aria-live="polite">
        {picked === null
          ? "Select a tool, then the pocket it goes to; or choose from the list of a pocket."
          : `T${picked} is selected: now the pocket it goes to.`}
      </p>
      <div className="grid grid-cols-[minmax(420px,1fr)_minmax(220px,0.45fr)] gap-6 max-[1100px]:grid-cols-1">
        <Pockets
          changer={changer}
          picked={picked}
          onPick={setPicked}
          onMove={(number, pocket) => void move(number, pocket)}
        />
        <div>
          <InSpindle />
          <Loose picked={picked} onPick={setPicked} onMove={(number, pocket) => void move(number, pocket)} />
        </div>
      </div>
    </div>
  );
}

function Loose({ picked, onPick, onMove }: Moving) {
  const tools = useSetup((setup) => setup?.tools) ?? [];
  const loose = tools.filter((tool) => tool.pocket === null);
  return (
    <section aria-label="Not stored">
      <h3 className="font-semibold">Not stored</h3>
      {loose.length === 0 && <p className="text-ink-2">Every tool has its pocket.</p>}
      <ul>
        {loose.map((tool) => (
          <li key={tool.number}>
            <button
              type="button"
              className={`min-h-10 w-full px-2 text-left ${picked === tool.number ? "bg-now-wash" : ""}`}
              aria-pressed={picked === tool.number}
              disabled={!may("technician")}
              onClick={() => onPick(picked === tool.number ? null : tool.number)}
            >
              T{tool.number} {tool.name}
            </button>
          </li>
        ))}
      </ul>
      {picked !== null && tools.find((tool) => tool.number === picked)?.pocket !== null && (
        <button type="button" className="button plain" onClick={() => onMove(picked, null)}>
          Take T{picked} out of its pocket
        </button>
      )}
    </section>
  );
}

/** What the machine tells of its spindle; a doubtful record leads to the recovery sheet. */
function InSpindle() {
  const tool = useLive((live) => live.reported?.tool);
  const hands = useLive((live) => live.hands);
  const practice = useMachine((machine) => machine?.agent === "");
  const connected = useLive((live) => live.reported !== null);
  useEffect(() => {
    if (!practice || !connected) return;
    void useLive
      .getState()
      .send({ do: "hands" })
      .then((answer) => answer.hands && useLive.setState({ hands: answer.hands }));
  }, [practice, connected]);
  return (
    <section aria-label="In the spindle" className="pb-3">
      <h3 className="font-semibold">In the spindle</h3>
      {!connected || tool === null || tool === undefined ? (
        <p className="text-ink-2">The machine does not report it.</p>
      ) : (
        <p>{tool ? `T${tool}` : "nothing"}</p>
      )}
      {hands?.doubtful && (
        <p className="text-warn">
          The record ({hands.record ? `T${hands.record}` : "no tool"}) is doubtful: see After a stop.
        </p>
      )}
    </section>
  );
}

interface Moving {
  picked: number | null;
  onPick: (tool: number | null) => void;
  onMove: (tool: number, pocket: number | null) => void;
}

function Pockets(props: Moving & { changer: PocketChanger }) {
  const { changer, picked, onPick, onMove } = props;
  const unit = useUnit();
  const reserved = standingIn(useSetup());
  return (
    <table className="w-full" aria-label="Pocket table">
      <thead>
        <tr className="text-left text-[13px] text-ink-3">
          <th className="font-normal">pocket</th>
          <th className="font-normal">tool</th>
          <th className="text-right font-normal">depth to spare {unitOf("length", unit)}</th>
          <th className="text-right font-normal">hole wider by</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {Array.from({ length: pocketCount(changer) }, (_, index) => (
          <PocketRow
            // biome-ignore lint/suspicious/noArrayIndexKey: pockets are known by their number
            key={index}
            pocket={index + 1}
            what={reserved.get(index + 1)}
            {...{ picked, onPick, onMove }}
          />
        ))}
      </tbody>
    </table>
  );
}

function PocketRow({ pocket, what, picked, onPick, onMove }: Moving & { pocket: number; what: string | undefined }) {
  const tool = useSetup((setup) => setup?.tools.find((entry) => entry.pocket === pocket));
  const how = usePreview((answer) => answer?.storing?.find((entry) => entry.tool === tool?.number));
  const unit = useUnit();
  return (
    <tr className="border-t border-rule-2" data-pocket={pocket}>
      <td className="w-14 font-medium">{pocket}</td>
      <td className="w-56">
        {what ? (
          <span className="text-ink-3">reserved: {what}</span>
        ) : (
          <ToolOf tool={tool} pocket={pocket} onMove={onMove} />
        )}
      </td>
      <td className={`text-right ${how && how.spare < 0 ? "font-semibold text-stop" : ""}`}>
        {how ? shown(how.spare, "length", unit) : ""}
      </td>
      <td className={`text-right ${how?.clearance != null && how.clearance < 0 ? "font-semibold text-stop" : ""}`}>
        {how?.clearance != null ? shown(how.clearance, "length", unit) : how ? "hangs free" : ""}
      </td>
      <td className="pl-4">
        {!what && <Move tool={tool} {...{ pocket, picked, onPick, onMove }} />}
        {how?.says && <span className="block text-[13.5px] text-stop">{how.says}</span>}
      </td>
    </tr>
  );
}

function ToolOf({ tool, pocket, onMove }: Pick<Moving, "onMove"> & { tool: Tool | undefined; pocket: number }) {
  const tools = useSetup((setup) => setup?.tools) ?? [];
  return (
    <select
      className="choice text-left!"
      aria-label={`Tool in pocket ${pocket}`}
      value={tool?.number ?? 0}
      disabled={!may("technician")}
      onChange={(event) => {
        const number = Number(event.currentTarget.value);
        if (number) onMove(number, pocket);
        else if (tool) onMove(tool.number, null);
      }}
    >
      <option value={0}>empty</option>
      {tools.map((entry) => (
        <option key={entry.number} value={entry.number}>
          T{entry.number} {entry.name}
        </option>
      ))}
    </select>
  );
}

/** Picking a tool up, putting the picked one here. */
function Move({ tool, pocket, picked, onPick, onMove }: Moving & { tool: Tool | undefined; pocket: number }) {
  if (!may("technician")) return null;
  if (picked !== null && picked !== tool?.number)
    return (
      <button
        type="button"
        className="link"
        aria-label={`Put T${picked} into pocket ${pocket}`}
        onClick={() => onMove(picked, pocket)}
      >
        put it here
      </button>
    );
  if (!tool) return null;
  const mine = picked === tool.number;
  return (
    <button
      type="button"
      className="link"
      aria-label={mine ? `Deselect T${tool.number}` : `Select T${tool.number}`}
      onClick={() => onPick(mine ? null : tool.number)}
    >
      {mine ? "let go" : "pick"}
    </button>
  );
}

const ASKS = {
  fill: ["Fill in order", "Every tool is put into the free pockets, in the order of the tools' numbers."],
  empty: ["Empty all", "Every tool is taken out of its pocket."],
  renumber: [
    "Number by pocket",
    "Every stored tool gets the number of its pocket. Programs that call tools by number have to follow.",
  ],
} as const;

function Actions() {
  const slug = useSlug();
  const rack = useSetup((setup) => Boolean(rackOf(setup?.changer)));
  const [trouble, setTrouble] = useState("");
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-rule pb-2">
      <Arrange onTrouble={setTrouble} />
      <span className="flex-1" />
      <a className="button plain" href={`/api/machines/${slug}/pockets.csv`}>
        <Download size={15} /> CSV
      </a>
      <a className="button plain" href={`/api/machines/${slug}/pockets.xlsx`}>
        <Download size={15} /> XLSX
      </a>
      {rack && (
        <a
          className="button plain"
          href={`/api/machines/${slug}/mounting.dxf`}
          title="The holes and recesses of the rack, in its own frame"
        >
          <Download size={15} /> DXF
        </a>
      )}
      <ImportFile onTrouble={setTrouble} />
      {trouble && (
        <p role="alert" className="w-full text-stop">
          {trouble}
        </p>
      )}
    </div>
  );
}

/** What a supervisor does with every pocket at once, after a question. */
function Arrange({ onTrouble }: { onTrouble: (text: string) => void }) {
  const [asked, setAsked] = useState<keyof typeof ASKS | null>(null);
  const arrange = async (how: keyof typeof ASKS) => {
    setAsked(null);
    await flush();
    const answer = await client
      .POST("/api/machines/{slug}/pockets/arrange", {
        params: { path: { slug: slugNow() ?? "" } },
        body: { how },
      })
      .catch(() => null);
    const lost = "No connection to the server; nothing was changed.";
    onTrouble(answer?.data ? "" : answer ? refusal(answer.error) : lost);
    if (answer?.data) await restored(answer.data);
  };
  return (
    <>
      {(Object.keys(ASKS) as (keyof typeof ASKS)[]).map((how) => (
        <button
          key={how}
          type="button"
          className="button plain"
          disabled={!may("supervisor")}
          title={may("supervisor") ? undefined : "A supervisor does this"}
          onClick={() => setAsked(how)}
        >
          {ASKS[how][0]}
        </button>
      ))}
      {asked && (
        <Dialog open onClose={() => setAsked(null)} title={ASKS[asked][0]}>
          <p className="py-3">{ASKS[asked][1]} It becomes one revision and can be undone.</p>
          <div className="flex justify-end gap-2">
            <button type="button" className="button plain" onClick={() => setAsked(null)}>
              Cancel
            </button>
            <button type="button" className="button first" onClick={() => void arrange(asked)}>
              {ASKS[asked][0]}
            </button>
          </div>
        </Dialog>
      )}
    </>
  );
}

/** A table from a file; what it would change is shown first. */
function ImportFile({ onTrouble }: { onTrouble: (text: string) => void }) {
  const slug = useSlug();
  const [preview, setPreview] = useState<Preview | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const importFile = async (picked: File) => {
    const answer = await fetch(`/api/machines/${slug}/pockets/preview`, {
      method: "POST",
      headers: { "Content-Type": "application/octet-stream", ...csrf() },
      body: picked,
    }).catch(() => null);
    const data: unknown = await answer?.json().catch(() => null);
    if (answer?.ok) setPreview(data as Preview);
    onTrouble(answer?.ok ? "" : answer ? refusal(data) : "No connection to the server.");
  };
  return (
    <>
      {may("technician") && (
        <button type="button" className="button plain" onClick={() => file.current?.click()}>
          <Upload size={15} /> Import a table
        </button>
      )}
      <input
        ref={file}
        type="file"
        className="hidden"
        aria-label="Pocket table file"
        accept=".csv,.xlsx"
        onChange={(event) => {
          const picked = event.currentTarget.files?.[0];
          event.currentTarget.value = "";
          if (picked) void importFile(picked);
        }}
      />
      {preview && <PreviewDialog preview={preview} onClose={() => setPreview(null)} />}
    </>
  );
}

function PreviewDialog({ preview, onClose }: { preview: Preview; onClose: () => void }) {
  const reported = preview.rows.filter((row) => row.changes || row.wrong);
  const take = async () => {
    if (preview.tools) await edit("/tools", preview.tools);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} title="Changes by the table">
      <ul className="max-h-[50vh] overflow-auto py-2">
        {reported.length === 0 && <li>Nothing: it is as the pockets are.</li>}
        {reported.map((row) => (
          <li key={row.row} className={`border-t border-rule-2 py-1 ${row.wrong ? "text-stop" : ""}`}>
            <span className="inline-block w-16 text-ink-3">row {row.row}</span>
            {row.wrong || row.changes}
          </li>
        ))}
      </ul>
      {!preview.tools && (
        <p className="text-stop">A row is wrong; nothing was imported. Correct the file and import it again.</p>
      )}
      <div className="flex justify-end gap-2 pt-2">
        <button type="button" className="button plain" onClick={onClose}>
          Cancel
        </button>
        <button
          type="button"
          className="button first"
          disabled={!preview.tools || reported.length === 0}
          onClick={() => void take()}
        >
          Import
        </button>
      </div>
    </Dialog>
  );
}
