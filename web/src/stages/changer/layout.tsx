/** A layout of pockets from a DXF: its circles or points, on the layer and in the order that one chooses. */
import { ArrowDown, ArrowUp, FileInput } from "lucide-react";
import { useRef, useState } from "react";
import { client, type Layer, type Rack, refusal } from "../../api/client";
import { Dialog } from "../../common/dialog";
import { QuantityInput } from "../../fields/quantity-input";
import { useUnit } from "../../fields/rows";
import { shown, unitOf } from "../../quantity/format";
import { may } from "../../session/session";
import { edit } from "../../work/editing";

type Unit = "as stated" | "mm" | "inch";

export function LayoutIn() {
  const file = useRef<HTMLInputElement>(null);
  const [text, setText] = useState("");
  const [layers, setLayers] = useState<Layer[] | null>(null);
  const [trouble, setTrouble] = useState("");
  const read = async (content: string, unit: Unit) => {
    const { data, error } = await client
      .POST("/api/layout", { body: { text: content, unit } })
      .catch(() => ({ data: undefined, error: { message: "No connection to the server; the file was not read." } }));
    setLayers(data ?? null);
    setTrouble(data ? "" : refusal(error));
  };
  const open = async (chosen: File | undefined) => {
    if (!chosen) return;
    const content = await chosen.text();
    setText(content);
    await read(content, "as stated");
  };
  if (!may("technician")) return null;
  return (
    <section className="mt-3 border-t border-rule pt-2" aria-label="Layout from a drawing">
      <button type="button" className="button plain" onClick={() => file.current?.click()}>
        <FileInput size={16} /> Take a layout from a DXF
      </button>
      <input
        ref={file}
        type="file"
        accept=".dxf"
        className="hidden"
        aria-label="DXF with the layout"
        onChange={(event) => {
          void open(event.currentTarget.files?.[0]);
          event.currentTarget.value = "";
        }}
      />
      {trouble && (
        <div role="alert" className="pt-1 text-stop">
          {trouble}
          {/neither millimetres nor inches/.test(trouble) && (
            <span className="flex gap-2 pt-1">
              {(["mm", "inch"] as const).map((unit) => (
                <button key={unit} type="button" className="button plain" onClick={() => void read(text, unit)}>
                  It is in {unit === "mm" ? "millimetres" : "inches"}
                </button>
              ))}
            </span>
          )}
        </div>
      )}
      {layers && <Choose layers={layers} onClose={() => setLayers(null)} />}
    </section>
  );
}

const ORDERS = ["as drawn", "along X", "along Y", "row by row"] as const;

function Choose({ layers, onClose }: { layers: Layer[]; onClose: () => void }) {
  const [layer, setLayer] = useState(layers[0] as Layer);
  const [sequence, setSequence] = useState<number[]>(layer.orders["along X"] ?? []);
  const [zero, setZero] = useState({ x: 0, y: 0 });
  const [trouble, setTrouble] = useState("");
  const choose = (next: Layer, order: string) => {
    setLayer(next);
    setSequence(next.orders[order] ?? []);
  };
  const marks = sequence.map((place) => layer.marks[place]).filter((mark) => mark !== undefined);
  const take = async () => {
    const said = await takeOver(marks.map((mark) => ({ x: mark.x + zero.x, y: mark.y + zero.y })));
    if (said) setTrouble(said);
    else onClose();
  };
  return (
    <Dialog open wide title="Layout from a drawing" onClose={onClose}>
      <LayerAndOrder layers={layers} layer={layer} onChoose={choose} />
      <div className="grid grid-cols-2 gap-4 pt-2">
        <Preview marks={marks} />
        <InOrder marks={marks} onSwap={(index, by) => setSequence((before) => swapped(before, index, index + by))} />
      </div>
      <DrawingZero
        zero={zero}
        onZero={(axis, value) => setZero((before) => ({ ...before, [axis]: value }))}
        onSays={setTrouble}
      />
      {trouble && (
        <p role="alert" className="pt-1 text-stop">
          {trouble}
        </p>
      )}
      <div className="flex justify-end gap-2 pt-3">
        <button type="button" className="button plain" onClick={onClose}>
          Cancel
        </button>
        <button type="button" className="button first" onClick={() => void take()}>
          Use these {marks.length} pockets
        </button>
      </div>
    </Dialog>
  );
}

/** The list with two places exchanged; as it is where one of them is not there. */
function swapped(list: number[], one: number, other: number): number[] {
  const next = [...list];
  const [first, second] = [list[one], list[other]];
  if (first === undefined || second === undefined) return list;
  next[one] = second;
  next[other] = first;
  return next;
}

/** The pockets stand where these places are; what is wrong with that, "" nothing. */
async function takeOver(places: { x: number; y: number }[]): Promise<string> {
  const taught = places.map((place, index) => ({ pocket: index + 1, ...place, z: null }));
  const faults = await edit("/changer/rack", (before: Rack) => ({
    ...before,
    count: taught.length,
    rows: 1,
    datum: before.datum.at === "pocket" ? { ...before.datum, pocket: 1 } : before.datum,
    taught,
    approached: [],
    single_positions: true,
  }));
  return faults.map((fault) => fault.what).join(" ");
}

function LayerAndOrder(props: { layers: Layer[]; layer: Layer; onChoose: (layer: Layer, order: string) => void }) {
  const { layers, layer, onChoose } = props;
  return (
    <div className="flex flex-wrap gap-3">
      <label>
        Layer{" "}
        <select
          className="choice w-auto!"
          value={layer.name}
          onChange={(event) => {
            const next = layers.find((entry) => entry.name === event.currentTarget.value);
            if (next) onChoose(next, "along X");
          }}
        >
          {layers.map((entry) => (
            <option key={entry.name} value={entry.name}>
              {entry.name} ({entry.marks.length})
            </option>
          ))}
        </select>
      </label>
      <label>
        Order{" "}
        <select
          className="choice w-auto!"
          aria-label="Order"
          onChange={(event) => onChoose(layer, event.currentTarget.value)}
          defaultValue="along X"
        >
          {ORDERS.map((order) => (
            <option key={order}>{order}</option>
          ))}
        </select>
      </label>
    </div>
  );
}

/** The pockets in their order, which can be changed. */
function InOrder({ marks, onSwap }: { marks: Layer["marks"]; onSwap: (index: number, by: 1 | -1) => void }) {
  const unit = useUnit();
  const mm = (value: number) => shown(value, "length", unit);
  return (
    <ol className="max-h-64 overflow-auto" aria-label="Pockets in their order">
      {marks.map((mark, index) => (
        <li key={`${mark.x},${mark.y}`} className="flex items-center gap-1 border-b border-rule-2 text-[14px]">
          <b className="w-8">{index + 1}</b>
          <span className="flex-1">
            {mm(mark.x)}, {mm(mark.y)}
          </span>
          <button
            type="button"
            className="link"
            aria-label={`Pocket ${index + 1} earlier`}
            onClick={() => onSwap(index, -1)}
          >
            <ArrowUp size={16} />
          </button>
          <button
            type="button"
            className="link"
            aria-label={`Pocket ${index + 1} later`}
            onClick={() => onSwap(index, 1)}
          >
            <ArrowDown size={16} />
          </button>
        </li>
      ))}
    </ol>
  );
}

function DrawingZero(props: {
  zero: { x: number; y: number };
  onZero: (axis: "x" | "y", value: number) => void;
  onSays: (text: string) => void;
}) {
  const { zero, onZero, onSays } = props;
  const unit = useUnit();
  return (
    <div className="flex items-center gap-2 pt-3">
      The drawing's zero is at machine
      {(["x", "y"] as const).map((axis) => (
        <span key={axis} className="flex items-center gap-1">
          {axis.toUpperCase()}
          <span className="inline-block w-24">
            <QuantityInput
              id={`zero-${axis}`}
              label={`Machine ${axis.toUpperCase()} of the drawing's zero`}
              value={zero[axis]}
              kind="length"
              unit={unit}
              onCommit={async (value) => {
                onZero(axis, value);
                return [];
              }}
              onSays={(reported) => onSays(reported?.wrong ? reported.text : "")}
            />
          </span>
        </span>
      ))}
      {unitOf("length", unit)}
    </div>
  );
}

function Preview({ marks }: { marks: Layer["marks"] }) {
  const [xs, ys] = [marks.map((mark) => mark.x), marks.map((mark) => mark.y)];
  const [left, low] = [Math.min(...xs), Math.min(...ys)];
  const scale = Math.min(230 / Math.max(1, Math.max(...xs) - left), 220 / Math.max(1, Math.max(...ys) - low), 4);
  const at = (mark: { x: number; y: number }) => [18 + (mark.x - left) * scale, 242 - (mark.y - low) * scale] as const;
  return (
    <svg width="266" height="260" role="img" aria-label="The pockets in their order">
      <polyline points={marks.map((mark) => at(mark).join(",")).join(" ")} fill="none" className="line-dimension" />
      {marks.map((mark, index) => {
        const [x, y] = at(mark);
        return (
          <g key={`${mark.x},${mark.y}`}>
            <circle
              cx={x}
              cy={y}
              r={Math.max(4, Math.min(12, (mark.diameter / 2) * scale))}
              fill="var(--sheet)"
              className="line-outline"
            />
            <text x={x} y={y - 9} textAnchor="middle" style={{ fontSize: 12 }}>
              {index + 1}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
