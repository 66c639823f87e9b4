/** The Machine stage: axes side by side, the spindle, and the travel drawn to scale. */
import { useId, useState } from "react";
import type { Kind } from "../../api/client";
import { PlanBodies, Stored, UprightBodies } from "../../drawing/bodies";
import { AcrossDimension, UprightDimension } from "../../drawing/dimension";
import { project, statedScale } from "../../drawing/projection";
import { useSize } from "../../drawing/use-size";
import { shown, unitOf } from "../../quantity/format";
import { QuantityInput } from "../../quantity/quantity-input";
import { ChoiceRow, QuantityRow, useUnit } from "../../quantity/rows";
import { Panels } from "../../shell/panels";
import { may } from "../../shell/session";
import { read } from "../../work/pointer";
import { useWork } from "../../work/store";

export default function MachineStage() {
  return <Panels name="machine" left={<MachineSchedule />} leftSize={420} middle={<MachineSheet />} />;
}

const AXES = ["X", "Y", "Z"] as const;
const ROWS: [string, string, Kind, string][] = [
  ["from", "least", "length", "The lower end of the travel, machine coordinates."],
  ["to", "greatest", "length", "The upper end of the travel; for Z usually 0, at the top."],
  ["rapid", "rapid", "feed", "5 000 to 20 000 mm/min is usual on a router."],
  ["acceleration", "acceleration", "acceleration", "150 to 1 000 mm/s² on a router, Z the lowest."],
  ["resolution", "resolution", "length", "The smallest step of the axis."],
];

function MachineSchedule() {
  return (
    <div className="pb-6">
      <div className="group-title">Machine</div>
      <TextRow label="Name" pointer="/machine/name" />
      <TextRow label="Description" pointer="/machine/description" />
      <ChoiceRow
        label="Unit of display"
        pointer="/machine/unit"
        choices={[
          ["mm", "millimetre"],
          ["inch", "inch"],
        ]}
      />
      <ChoiceRow
        label="Control profile"
        pointer="/machine/profile"
        choices={[
          ["parametric", "parametric"],
          ["plain words", "plain words"],
        ]}
      />
      <AxesTable />
      <div className="group-title">
        Spindle <small>the stack above the gauge line</small>
      </div>
      <QuantityRow label="Least speed" pointer="/machine/spindle/least_speed" kind="speed" />
      <QuantityRow label="Greatest speed" pointer="/machine/spindle/greatest_speed" kind="speed" />
      <QuantityRow
        label="Time to speed"
        pointer="/machine/spindle/seconds_to_speed"
        kind="time"
        hint="From standing to the greatest speed."
      />
      <QuantityRow label="Nose diameter" pointer="/machine/spindle/nose_diameter" kind="length" />
      <QuantityRow label="Nose length" pointer="/machine/spindle/nose_length" kind="length" />
      <QuantityRow label="Body diameter" pointer="/machine/spindle/body_diameter" kind="length" />
      <QuantityRow label="Body length" pointer="/machine/spindle/body_length" kind="length" />
    </div>
  );
}

function TextRow({ label, pointer }: { label: string; pointer: string }) {
  const id = useId();
  const value = useWork((work) => read(work.document, pointer)) as string;
  const [text, setText] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const commit = async () => {
    if (text === null) return;
    const faults = await useWork.getState().edit(pointer, text.trim());
    setTrouble(faults.map((fault) => fault.what).join(" ") || null);
    if (!faults.length) setText(null);
  };
  return (
    <>
      <div className="row" style={{ gridTemplateColumns: "1fr 232px 10px" }}>
        <label htmlFor={id}>{label}</label>
        <input
          id={id}
          className="field"
          readOnly={!may("technician")}
          value={text ?? value}
          onChange={(event) => setText(event.currentTarget.value)}
          onBlur={() => void commit()}
          onKeyDown={(event) => {
            if (event.key === "Enter") void commit();
            event.stopPropagation();
          }}
        />
      </div>
      {trouble && <p className="says wrong">{trouble}</p>}
    </>
  );
}

function AxesTable() {
  const unit = useUnit();
  const document = useWork((work) => work.document);
  const focus = useWork((work) => work.focus);
  const [says, setSays] = useState<{ text: string; wrong: boolean } | null>(null);
  const { edit, setFocus } = useWork.getState();
  if (!document) return null;
  const hint = ROWS.find(([, field]) => focus?.endsWith(`/${field}`))?.[3];
  return (
    <div>
      <div className="group-title">
        Axes <small>machine coordinates</small>
      </div>
      <table className="mx-3 w-[calc(100%-24px)]">
        <thead>
          <tr className="text-ink-2">
            <th />
            {AXES.map((axis) => (
              <th key={axis} className="py-1 text-right font-semibold text-ink">
                {axis}
              </th>
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {ROWS.map(([name, field, kind]) => (
            <tr key={field}>
              <th className="py-0.5 pl-1 text-left font-normal text-ink-2">{name}</th>
              {AXES.map((axis) => {
                const pointer = `/machine/axes/${axis}/${field}`;
                return (
                  <td key={axis} className={`table-cell w-[88px] px-1 ${focus === pointer ? "bg-now-wash" : ""}`}>
                    <QuantityInput
                      label={`${axis} ${name}`}
                      value={read(document, pointer) as number}
                      kind={kind}
                      unit={unit}
                      readOnly={!may("technician")}
                      onFocus={() => setFocus(pointer)}
                      onCommit={(value) => edit(pointer, value)}
                      onSays={setSays}
                    />
                  </td>
                );
              })}
              <td className="w-12 text-[13px] text-ink-3">{unitOf(kind, unit)}</td>
            </tr>
          ))}
          <tr>
            <th className="pl-1 text-left font-normal text-ink-2">home at</th>
            {AXES.map((axis) => (
              <td key={axis} className="px-1">
                <select
                  className="choice"
                  aria-label={`${axis} home`}
                  value={document.machine.axes[axis].home}
                  disabled={!may("technician")}
                  onChange={(event) => void edit(`/machine/axes/${axis}/home`, event.currentTarget.value)}
                >
                  <option value="least">from</option>
                  <option value="greatest">to</option>
                </select>
              </td>
            ))}
            <td />
          </tr>
        </tbody>
      </table>
      {says ? (
        <p className={`says ${says.wrong ? "wrong" : "understood"}`} role={says.wrong ? "alert" : undefined}>
          {says.text}
        </p>
      ) : hint ? (
        <p className="says understood">{hint}</p>
      ) : null}
    </div>
  );
}

function MachineSheet() {
  const setup = useWork((work) => work.document);
  const scene = useWork((work) => work.answer?.scene);
  const unit = useUnit();
  const { element, width, height } = useSize<HTMLDivElement>();
  if (!setup || !scene) return <div ref={element} className="h-full bg-sheet" />;
  const { X, Y, Z } = setup.machine.axes;
  const lowest = Math.min(Z.least, ...scene.bodies.map((body) => body.bottom));
  const to = project(
    { x: [X.least, X.greatest], y: [Y.least, Y.greatest], z: [lowest, Z.greatest + 20] },
    {
      width: width || 700,
      height: height || 600,
      margin: { left: 84, top: 34, right: 70, bottom: 34 },
      between: 62,
      beside: 72,
    },
  );
  const text = (value: number) => shown(value, "length", unit, true);
  const { plan, front, side } = to;
  const home = (axis: "X" | "Y") =>
    setup.machine.axes[axis].home === "least" ? setup.machine.axes[axis].least : setup.machine.axes[axis].greatest;
  return (
    <div ref={element} data-drawing className="h-full bg-sheet">
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label="Drawing of the machine's travel">
          <title>Plan, front and side view of the travel</title>
          <text x={18} y={20} className="caption">
            Plan
          </text>
          <text x={18} y={front.top - 8} className="caption">
            Front
          </text>
          <text x={side.left} y={front.top - 8} className="caption">
            Side
          </text>
          <rect
            x={plan.left}
            y={plan.top}
            width={plan.width}
            height={plan.height}
            fill="none"
            className="line-hidden"
          />
          <PlanBodies scene={scene} to={to} />
          {setup.work_offsets.map((offset) => (
            <g key={offset.number}>
              <path
                d={`M${to.atX(offset.x) - 8} ${to.atY(offset.y)}h16M${to.atX(offset.x)} ${to.atY(offset.y) - 8}v16`}
                className="line-dimension"
              />
              <text x={to.atX(offset.x) + 6} y={to.atY(offset.y) - 5} className="caption">
                zero {offset.number}
              </text>
            </g>
          ))}
          <g>
            <circle cx={to.atX(home("X"))} cy={to.atY(home("Y"))} r="6" fill="none" className="line-outline" />
            <text x={to.atX(home("X"))} y={to.atY(home("Y")) - 10} textAnchor="middle" className="caption">
              home
            </text>
          </g>
          {[front, side].map((view) => (
            <rect
              key={view.left}
              x={view.left}
              y={to.atZ(Z.greatest)}
              width={view.width}
              height={to.atZ(Z.least) - to.atZ(Z.greatest)}
              fill="none"
              className="line-hidden"
            />
          ))}
          <UprightBodies scene={scene} to={to} view="front" />
          <Stored scene={scene} to={to} view="front" carried={0} />
          <UprightBodies scene={scene} to={to} view="side" />
          <Stored scene={scene} to={to} view="side" carried={0} />
          <AcrossDimension
            x1={plan.left}
            x2={plan.left + plan.width}
            y={plan.top + plan.height + 24}
            from={plan.top + plan.height}
            text={`X to ${text(X.greatest)}`}
            pointer="/machine/axes/X/greatest"
            label="X travel to"
          />
          <UprightDimension
            y1={plan.top + plan.height}
            y2={plan.top}
            x={plan.left - 40}
            from={plan.left}
            text={`Y to ${text(Y.greatest)}`}
            pointer="/machine/axes/Y/greatest"
            label="Y travel to"
          />
          <UprightDimension
            y1={to.atZ(Z.greatest)}
            y2={to.atZ(Z.least)}
            x={front.left - 40}
            from={front.left}
            text={`Z ${text(Z.least)}`}
            pointer="/machine/axes/Z/least"
            label="Z travel from"
          />
          <text x={width - 16} y={height - 12} textAnchor="end" className="caption">
            {statedScale(to.scale)} {unitOf("length", unit)}
          </text>
        </svg>
      )}
    </div>
  );
}
