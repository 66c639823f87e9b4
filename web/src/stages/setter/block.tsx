/** The block check: a measured tool rests on a block of known height, on a zero that another tool set. */
import { useState } from "react";
import { client } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { Amount } from "../../fields/amount";
import { useUnit } from "../../fields/rows";
import { useLive } from "../../live/live";
import { shown, unitOf } from "../../quantity/format";
import { takeReading, useReadings } from "../../readings/readings";
import { may } from "../../session/session";
import { useSetup } from "../../work/document";
import { edit } from "../../work/editing";
import { keyed } from "../../work/pointer";
import { useVocabulary } from "../../work/vocabulary";

/** mm; the standard uncertainty of the length of the tool that set the zero, where it was measured with care */
const REFERENCE_U = 0.001;

const SET_BY = ["another tool", "the probe", "this tool"] as const;

export function BlockCheck({ index }: { index: number }) {
  const tools = useSetup((setup) => setup?.tools) ?? [];
  const [number, setNumber] = useState<number | null>(null);
  const [setBy, setSetBy] = useState<(typeof SET_BY)[number] | "">("");
  const block = useSetup((setup) => setup?.setters.find((entry) => "height" in entry));
  const [typed, setHeight] = useState<number | null>(null);
  const height = typed ?? (block && "height" in block ? block.height : 50);
  const [reading, setReading] = useState<number | null>(null);
  const tool = tools.find((entry) => entry.number === number) ?? tools[0];
  return (
    <section aria-label="Block check">
      <h2 className="text-[17px] font-semibold">Check it on a block</h2>
      <p className="text-[14.5px] text-ink-2">
        Rest a measured tool on a block of known height and enter what the readout shows. It is of use only where the
        zero under the block was set by another tool: with the same one the error is in both and cancels.
      </p>
      <div className="mt-2 grid gap-2">
        <select
          className="choice w-56! border border-ink! px-1 text-left!"
          aria-label="Tool on the block"
          value={tool?.number ?? 0}
          onChange={(event) => setNumber(Number(event.currentTarget.value))}
        >
          {tools.map((entry) => (
            <option key={entry.number} value={entry.number}>
              T{entry.number} {entry.name}
            </option>
          ))}
        </select>
        <label className="flex items-center gap-2 text-[14.5px] text-ink-2">
          the zero was set by
          <select
            className="choice w-40! border border-ink! px-1 text-left!"
            value={setBy}
            onChange={(event) => setSetBy(event.currentTarget.value as typeof setBy)}
          >
            <option value="">choose</option>
            {SET_BY.map((entry) => (
              <option key={entry}>{entry}</option>
            ))}
          </select>
        </label>
        <Amount label="height of the block" value={height} onValue={setHeight} />
        <span className="flex flex-wrap items-center gap-3">
          <Amount label="the readout shows" value={reading ?? height} onValue={setReading} />
          <FromReadout onValue={setReading} />
        </span>
      </div>
      {setBy === "this tool" && (
        <p role="alert" className="mt-1 text-warn">
          Then the check proves nothing: set the zero with another tool, or with the probe.
        </p>
      )}
      {tool && reading !== null && setBy && setBy !== "this tool" && (
        <Outcome index={index} tool={tool.number} height={height} reading={reading} />
      )}
    </section>
  );
}

/** What the machine's readout of Z shows now. */
function FromReadout({ onValue }: { onValue: (value: number) => void }) {
  const unit = useUnit();
  const z = useLive((live) => live.reported?.part.Z);
  if (z === undefined) return null;
  return (
    <button type="button" className="button plain" onClick={() => onValue(z)}>
      Take {shown(z, "length", unit)} from the machine
    </button>
  );
}

function Outcome({ index, tool, height, reading }: { index: number; tool: number; height: number; reading: number }) {
  const document = useSetup();
  const name = document?.setters[index]?.name ?? "";
  const unit = useUnit();
  const body = {
    document: document ?? {},
    setter: name,
    tool,
    block_height: height,
    reading,
    reference_u: REFERENCE_U,
  };
  const { data, trouble } = useAnswer(["block", nameOf(document), name, tool, height, reading], () =>
    client.POST("/api/setter/block", { body }),
  );
  const mm = (value: number) => `${shown(value, "length", unit)} ${unitOf("length", unit)}`;
  if (!data) return trouble ? <p className="text-stop">{trouble}</p> : null;
  return (
    <div className="mt-2 border-t border-ink pt-2" data-block-error={data.error}>
      <p className={data.matters ? "font-semibold text-stop" : "text-proven"}>{data.says}</p>
      {data.matters && (
        <>
          <p className="mt-1">
            the plane would be <b className="font-semibold">{mm(data.true_plane_z)}</b> ± {mm(data.half_width_95)}
          </p>
          <Affected index={index} />
          <Apply index={index} value={data.true_plane_z} />
        </>
      )}
    </div>
  );
}

/** What was measured with the plane height as it is. */
function Affected({ index }: { index: number }) {
  const list = useReadings();
  const document = useSetup();
  const tools = document?.tools ?? [];
  const { keys } = useVocabulary.getState();
  const key = keyed(document, `/setters/${index}/plane_z`, keys);
  const plane = document?.setters[index]?.plane_z;
  const since = list.filter((reading) => reading.rests_on[key] === plane).map((reading) => reading.pointer);
  const named = tools.filter((_, at) => since.includes(`/tools/${at}/length`)).map((tool) => `T${tool.number}`);
  const zeros = since.filter((pointer) => /^\/work_offsets\/\d+\/z$/.test(pointer)).length;
  return (
    <p className="text-[14.5px] text-ink-2" data-affected>
      Measured with this plane: {named.length ? named.join(", ") : "no length"}
      {zeros > 0 && `, and ${zeros} part zero${zeros > 1 ? "s" : ""}`}. They are off by as much: measure them again.
    </p>
  );
}

/** Take the corrected plane; the earlier value stays among the readings. */
function Apply({ index, value }: { index: number; value: number }) {
  const [trouble, setTrouble] = useState("");
  const apply = async () => {
    const quantity = `/setters/${index}/plane_z`;
    const said = await takeReading({ quantity, source: "typed", value });
    setTrouble(said || (await edit(quantity, value)).map((fault) => fault.what).join(" "));
  };
  return (
    <>
      <button type="button" className="button first mt-2" disabled={!may("technician")} onClick={() => void apply()}>
        Correct the plane height
      </button>
      {trouble && (
        <p role="alert" className="text-stop">
          {trouble}
        </p>
      )}
    </>
  );
}
