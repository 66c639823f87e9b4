/** The schedule of the Machine stage. */
import { Plus, Trash2 } from "lucide-react";
import { useId, useState } from "react";
import { client, type Fault, noConnection, refusal, type StoredPosition } from "../../api/client";
import { ChoiceRow, DerivedRow, QuantityRow, TextRow } from "../../fields/rows";
import { TextInput } from "../../fields/text-input";
import { useLive } from "../../live/live";
import { useProfiles } from "../../program/profiles";
import { may } from "../../session/session";
import { useDocument, useMachine, usePreview, useSetup, useSlug } from "../../work/document";
import { addToSetup, edit } from "../../work/editing";
import { read } from "../../work/pointer";
import { setFocus, useSelection } from "../../work/selection";
import { AxisTable } from "./axis-table";

export function MachineSchedule({ onWay, onProfile }: { onWay: () => void; onProfile: () => void }) {
  const profiles = useProfiles();
  return (
    <div className="pb-6">
      <div className="group-title">Machine</div>
      <TextRow label="Name" pointer="/machine/name" />
      <TextRow label="Description" pointer="/machine/description" />
      <ChoiceRow
        label="Unit of the machine"
        pointer="/machine/unit"
        choices={[
          ["mm", "millimetre"],
          ["inch", "inch"],
        ]}
      />
      <ChoiceRow label="Control profile" pointer="/machine/profile" choices={profiles.map((p) => [p.name, p.name])} />
      <p className="px-4 text-[14px]">
        <button type="button" className="link" onClick={onProfile}>
          What this control can do
        </button>
      </p>
      <AxisTable />
      <HomingOrder />
      <QuantityRow pointer="/machine/latency" kind="time" />
      <QuantityRow pointer="/machine/least_clearance" kind="length" />
      {(["X", "Y", "Z"] as const).map((axis) => (
        <DerivedRow key={axis} name={`${axis}_stopping`} />
      ))}
      <Positions onWay={onWay} />
      <div className="group-title">
        Spindle <small>the stack above the gauge line</small>
      </div>
      <QuantityRow pointer="/machine/spindle/least_speed" kind="speed" />
      <QuantityRow pointer="/machine/spindle/greatest_speed" kind="speed" />
      <QuantityRow pointer="/machine/spindle/seconds_to_speed" kind="time" />
      <QuantityRow pointer="/machine/spindle/nose_diameter" kind="length" />
      <QuantityRow pointer="/machine/spindle/nose_length" kind="length" />
      <QuantityRow pointer="/machine/spindle/body_diameter" kind="length" />
      <QuantityRow pointer="/machine/spindle/body_length" kind="length" />
      <Agent />
    </div>
  );
}

const ORDERS = ["Z, X, Y", "Z, Y, X", "X, Y, Z", "Y, X, Z", "X, Z, Y", "Y, Z, X"];

function HomingOrder() {
  const id = useId();
  const order = useSetup((setup) => setup?.machine.homing_order) ?? [];
  return (
    <div className="row" style={{ gridTemplateColumns: "1fr 142px" }} title="Z first takes the spindle out of the way.">
      <label htmlFor={id}>Homing order</label>
      <select
        id={id}
        className="choice"
        value={order.join(", ")}
        disabled={!may("technician")}
        onChange={(event) => void edit("/machine/homing_order", event.currentTarget.value.split(", "))}
      >
        {ORDERS.map((entry) => (
          <option key={entry}>{entry}</option>
        ))}
      </select>
    </div>
  );
}

const USES = ["exchange", "loading by hand", "end of program", "parking", "other"];

/** A new stored position, with a name that is free: up to the top, then to the corner. */
async function addPosition(): Promise<Fault[]> {
  const { document, answer } = useDocument.getState();
  const names = document?.positions.map((position) => position.name) ?? [];
  const axes = answer?.machine?.axes;
  let name = "new position";
  for (let count = 2; names.includes(name); count++) name = `new position ${count}`;
  const entry: StoredPosition = {
    name,
    use: "other",
    by_way_of: null,
    moves: [
      { X: null, Y: null, Z: axes?.Z?.soft_greatest ?? 0 },
      { X: axes?.X?.soft_least ?? 0, Y: axes?.Y?.soft_least ?? 0, Z: null },
    ],
  };
  return (await addToSetup({ what: "entry", body: { where: "/positions", entry } })).faults;
}

function Positions({ onWay }: { onWay: () => void }) {
  const positions = useSetup((setup) => setup?.positions) ?? [];
  const [trouble, setTrouble] = useState("");
  const add = async () => setTrouble((await addPosition()).map((fault) => fault.what).join(" "));
  const remove = async (name: string) => {
    const faults = await edit("/positions", (before: StoredPosition[]) => before.filter((p) => p.name !== name));
    setTrouble(faults.length ? `${name} is needed: ${faults.map((fault) => fault.what).join(" ")} It was kept.` : "");
  };
  return (
    <div>
      <div className="group-title">
        Stored positions
        {may("technician") && (
          <button type="button" className="button plain min-h-8! px-2!" onClick={() => void add()}>
            <Plus size={15} /> Add
          </button>
        )}
      </div>
      {positions.length === 0 && (
        <p className="px-4 text-[14px] text-ink-2">
          None yet. A place that the machine goes to again and again: for loading, for the end of a program.
        </p>
      )}
      {positions.map((position, index) => (
        <Position
          key={position.name}
          position={position}
          index={index}
          onWay={onWay}
          onRemove={() => void remove(position.name)}
        />
      ))}
      {trouble && (
        <p role="alert" className="says wrong">
          {trouble}
        </p>
      )}
    </div>
  );
}

interface PositionProps {
  position: StoredPosition;
  index: number;
  onWay: () => void;
  onRemove: () => void;
}

function Position({ position, index, onWay, onRemove }: PositionProps) {
  const way = usePreview((answer) => answer?.machine?.ways.find((entry) => entry.name === position.name));
  const focus = useSelection((work) => work.focus);
  const base = `/positions/${index}`;
  const look = () => {
    setFocus(`${base}/moves/0/${firstAxis(position)}`);
    onWay();
  };
  return (
    <div className={focus?.startsWith(`${base}/`) ? "bg-now-wash/40" : ""}>
      <div className="flex items-center gap-2 pt-1.5 pr-2 pl-4">
        <b className="font-medium">{position.name}</b>
        <button type="button" className="link text-[14px]" onClick={look}>
          {way?.findings.length ? `${way.findings.length} finding${way.findings.length > 1 ? "s" : ""}` : "the way"}
        </button>
        <span className="flex-1" />
        {may("technician") && (
          <button
            type="button"
            className="button plain min-h-8! border-0! px-2!"
            aria-label={`Remove ${position.name}`}
            onClick={onRemove}
          >
            <Trash2 size={15} />
          </button>
        )}
      </div>
      <TextRow label="Name" pointer={`${base}/name`} />
      <ChoiceRow label="For" pointer={`${base}/use`} choices={USES.map((use) => [use, use])} />
      <ByWayOf base={base} name={position.name} />
      {position.moves.flatMap((move, step) =>
        (["X", "Y", "Z"] as const)
          .filter((axis) => typeof move[axis] === "number")
          .map((axis) => (
            <QuantityRow
              key={axis}
              label={`${step + 1}. ${axis}`}
              pointer={`${base}/moves/${step}/${axis}`}
              kind="length"
            />
          )),
      )}
      {may("technician") && <MoveOrder index={index} />}
    </div>
  );
}

function ByWayOf({ base, name }: { base: string; name: string }) {
  const id = useId();
  const others = (useSetup((setup) => setup?.positions) ?? []).filter((position) => position.name !== name);
  const value = useSetup((setup) => read(setup, `${base}/by_way_of`)) as string | null;
  const [trouble, setTrouble] = useState("");
  return (
    <>
      <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
        <label htmlFor={id}>By way of</label>
        <select
          id={id}
          className="choice"
          value={value ?? ""}
          disabled={!may("technician")}
          onChange={async (event) => {
            const faults = await edit(`${base}/by_way_of`, event.currentTarget.value || null);
            setTrouble(faults.map((fault) => fault.what).join(" "));
          }}
        >
          <option value="">straight there</option>
          {others.map((position) => (
            <option key={position.name}>{position.name}</option>
          ))}
        </select>
      </div>
      {trouble && <p className="says wrong">{trouble}</p>}
    </>
  );
}

type Moves = StoredPosition["moves"];

const ORDERS_OF_MOVES: [string, ("X" | "Y" | "Z")[][]][] = [
  ["Z, then X and Y", [["Z"], ["X", "Y"]]],
  ["X and Y, then Z", [["X", "Y"], ["Z"]]],
  ["X and Y", [["X", "Y"]]],
  ["X, then Y", [["X"], ["Y"]]],
  ["Y, then X", [["Y"], ["X"]]],
  ["Z, X, then Y", [["Z"], ["X"], ["Y"]]],
  ["Z, Y, then X", [["Z"], ["Y"], ["X"]]],
  ["Z only", [["Z"]]],
  ["all together", [["X", "Y", "Z"]]],
];

function MoveOrder({ index }: { index: number }) {
  const id = useId();
  const moves = useSetup((setup) => setup?.positions[index]?.moves) as Moves | undefined;
  const axes = usePreview((answer) => answer?.machine?.axes);
  if (!moves) return null;
  const order = moves.map((move) => (["X", "Y", "Z"] as const).filter((axis) => typeof move[axis] === "number"));
  const now = ORDERS_OF_MOVES.find(([, entry]) => JSON.stringify(entry) === JSON.stringify(order))?.[0] ?? "";
  const change = (name: string) => {
    const wanted = ORDERS_OF_MOVES.find((entry) => entry[0] === name)?.[1] ?? [];
    const known = Object.assign({}, ...moves) as Record<string, number>;
    const made = wanted.map((step) =>
      Object.fromEntries(step.map((axis) => [axis, known[axis] ?? axes?.[axis]?.soft_greatest ?? 0])),
    );
    void edit(`/positions/${index}/moves`, made);
  };
  return (
    <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
      <label htmlFor={id}>Order of the axes</label>
      <select id={id} className="choice" value={now} onChange={(event) => change(event.currentTarget.value)}>
        {now === "" && <option value="">as it is</option>}
        {ORDERS_OF_MOVES.map(([name]) => (
          <option key={name}>{name}</option>
        ))}
      </select>
    </div>
  );
}

/** Where the machine is read from: the practice machine, or another agent of the standard. */
function Agent() {
  const agent = useMachine((machine) => machine?.agent) ?? "";
  const device = useMachine((machine) => machine?.device) ?? "";
  const slug = useSlug();
  const [says, setSays] = useState("");
  const id = useId();
  const keep = async (body: { address: string; device: string }): Promise<string> => {
    if (!slug) return "";
    const { data, error } = await client
      .PUT("/api/machines/{slug}/agent", { params: { path: { slug } }, body })
      .catch(noConnection);
    if (!data) return refusal(error);
    useDocument.setState({ machine: data });
    useLive.getState().follow(slug, `${data.agent} ${data.device}`);
    return "";
  };
  return (
    <div>
      <div className="group-title">
        Read from <small>an MTConnect agent</small>
      </div>
      <div className="row" style={{ gridTemplateColumns: "1fr 240px 10px" }}>
        <label htmlFor={id}>Address</label>
        <TextInput
          id={id}
          className="text-left!"
          placeholder="the practice machine"
          readOnly={!may("technician")}
          value={agent}
          onTake={(address) => keep({ address, device: address ? device : "" })}
          onSays={setSays}
        />
      </div>
      {agent && (
        <div className="row" style={{ gridTemplateColumns: "1fr 240px 10px" }}>
          <label htmlFor={`${id}-device`}>Device</label>
          <TextInput
            id={`${id}-device`}
            className="text-left!"
            placeholder="the first one it tells of"
            readOnly={!may("technician")}
            value={device}
            onTake={(name) => keep({ address: agent, device: name })}
            onSays={setSays}
          />
        </div>
      )}
      {says ? (
        <p className="says wrong">{says}</p>
      ) : (
        <p className="says text-ink-3">
          {agent
            ? "Read only: act at the machine. Empty it for the practice machine."
            : "Leave it empty for the practice machine."}
        </p>
      )}
    </div>
  );
}

/** The axis that a stored position's first move is of. */
function firstAxis(position: StoredPosition): string {
  const [move] = position.moves;
  return (["X", "Y", "Z"] as const).find((axis) => typeof move?.[axis] === "number") ?? "Z";
}
