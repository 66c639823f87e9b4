/** The sheet of the changer: plan, front and side view to scale, sharing their axes, with dimensions that can be edited. */
import { useMemo } from "react";
import type { Derived, Scene, Setup } from "../../api/client";
import { extent, PlanBodies, Stored, UprightBodies, UprightSpindle } from "../../drawing/bodies";
import { AcrossDimension, Figure, UprightDimension } from "../../drawing/dimension";
import { apart, type Bounds, type Projection, project, statedScale } from "../../drawing/projection";
import { useSize } from "../../drawing/use-size";
import { shown, unitOf } from "../../quantity/format";
import { useUnit } from "../../quantity/rows";
import { carriedAt, heldAt, type Place, placeAt } from "../../score/evaluate";
import { traceOf, useWork } from "../../work/store";
import { KeyPlan } from "./key-plan";

const ABOVE = 46;
/** mm of the sheet above the top of travel, for the spindle */

function boundsOf(setup: Setup, derived: Derived, scene: Scene): Bounds {
  const rack = scene.bodies.filter((body) => /rack| in pocket /.test(body.name));
  const xs = rack.flatMap((body) => extent(body, 0));
  const ys = rack.flatMap((body) => extent(body, 1));
  const z = setup.machine.axes.Z;
  const bottom = Math.min(derived.rack_top_z - 20, ...rack.map((body) => body.bottom), ...lowestTips(derived, scene));
  return {
    x: [Math.min(...xs) - 30, Math.max(...xs) + 30],
    y: [Math.min(...ys) - 26, Math.max(...ys) + 26],
    z: [bottom - 8, Math.max(z.greatest, derived.ladder.park_z) + ABOVE],
  };
}

function lowestTips(derived: Derived, scene: Scene): number[] {
  const stored = scene.rack?.pockets.map((pocket) => scene.tools.find((tool) => tool.number === pocket.tool)) ?? [];
  return stored.map((tool) => (tool ? derived.ladder.couple_z - tool.length : derived.ladder.couple_z));
}

/** The scene without bodies that are elsewhere on the machine; the key plan has them. */
function beside(scene: Scene): Scene {
  const rack = scene.bodies.filter((body) => /rack| in pocket /.test(body.name));
  const reach = (axis: 0 | 1) => {
    const all = rack.flatMap((body) => extent(body, axis));
    return [Math.min(...all) - 30, Math.max(...all) + 30] as const;
  };
  const [x, y] = [reach(0), reach(1)];
  const near = (body: Scene["bodies"][number]) => {
    const [bx, by] = [extent(body, 0), extent(body, 1)];
    return bx[1] > x[0] && bx[0] < x[1] && by[1] > y[0] && by[0] < y[1];
  };
  return { ...scene, bodies: scene.bodies.filter(near) };
}

/** Where the drawn machine stands: at the moment of the line of time, or parked over the middle of the rack. */
function useNow(): { at: Place | null; tool: number; held: number | null } {
  const trace = useWork(traceOf);
  const time = useWork((work) => work.time);
  if (!trace) return { at: null, tool: 0, held: 0 };
  return { at: placeAt(trace, time), tool: carriedAt(trace, time), held: heldAt(trace, time) };
}

export function ChangerSheet() {
  const setup = useWork((work) => work.document);
  const derived = useWork((work) => work.answer?.derived);
  const whole = useWork((work) => work.answer?.scene);
  const scene = useMemo(() => whole && beside(whole), [whole]);
  const { element, width, height } = useSize<HTMLDivElement>();
  return (
    <div ref={element} data-drawing className="h-full bg-sheet">
      {setup?.changer && derived && scene && width > 0 && (
        <Drawing setup={setup} derived={derived} scene={scene} whole={whole ?? scene} width={width} height={height} />
      )}
    </div>
  );
}

interface DrawingProps {
  setup: Setup;
  derived: Derived;
  scene: Scene;
  whole: Scene;
  width: number;
  height: number;
}

function Drawing({ setup, derived, scene, whole, width, height }: DrawingProps) {
  const { at, tool } = useNow();
  const unit = useUnit();
  const foot = 38;
  const to = useMemo(
    () =>
      project(boundsOf(setup, derived, scene), {
        width,
        height: height - foot,
        margin: { left: 150, top: 28, right: 16, bottom: 10 },
        between: 70,
        beside: 104,
      }),
    [setup, derived, scene, width, height],
  );
  const pocket = useWork((work) => work.pair?.to);
  const target = scene.rack?.pockets.find((entry) => entry.tool === pocket) ?? scene.rack?.pockets[0];
  const bottom = height - foot;
  const mm = (value: number) => shown(value, "length", unit);
  const over =
    at && at[0] >= to.bounds.x[0] && at[0] <= to.bounds.x[1] && at[1] >= to.bounds.y[0] && at[1] <= to.bounds.y[1];
  return (
    <svg width={width} height={height} role="group" aria-label="Drawing of the changer">
      <title>Plan, front and side view of the changer</title>
      <defs>
        <clipPath id="plan-clip">
          <rect x={to.plan.left} y={to.plan.top} width={to.plan.width} height={to.plan.height} />
        </clipPath>
        <clipPath id="front-clip">
          <rect x={to.front.left} y={to.front.top} width={to.front.width} height={to.front.height} />
        </clipPath>
        <clipPath id="side-clip">
          <rect x={to.side.left} y={to.side.top} width={to.side.width} height={to.side.height} />
        </clipPath>
      </defs>
      <Captions to={to} />
      <g clipPath="url(#plan-clip)">
        <TravelEnds setup={setup} to={to} />
        <PlanBodies scene={scene} to={to} />
      </g>
      <PlanPockets scene={scene} to={to} carried={tool} />
      {over && at && <PlanSpindle at={at} scene={scene} to={to} />}
      <PlanDimensions setup={setup} derived={derived} to={to} />
      <g clipPath="url(#front-clip)">
        <UprightBodies scene={scene} to={to} view="front" />
        <Stored scene={scene} to={to} view="front" carried={tool} />
      </g>
      <g clipPath="url(#side-clip)">
        <UprightBodies scene={scene} to={to} view="side" />
        <Stored scene={scene} to={to} view="side" carried={tool} />
      </g>
      <Ladder derived={derived} to={to} at={at} />
      {at && (
        <>
          <g clipPath="url(#front-clip)">
            <UprightSpindle scene={scene} at={at} tool={tool} to={to} view="front" />
          </g>
          <g clipPath="url(#side-clip)">
            <UprightSpindle scene={scene} at={at} tool={tool} to={to} view="side" />
          </g>
          <ContactMark to={to} />
        </>
      )}
      <HeightDimensions setup={setup} derived={derived} to={to} />
      <KeyPlan
        setup={setup}
        scene={whole}
        at={at}
        region={to.bounds}
        x={to.side.left}
        y={to.plan.top - 4}
        width={width - to.side.left - 14}
        height={Math.max(60, to.front.top - to.plan.top - 44)}
      />
      <path d={`M14 ${bottom + 4}H${width - 14}`} stroke="var(--rule)" />
      {target && (
        <text x="20" y={bottom + 26} style={{ fontSize: 15 }}>
          <tspan fontWeight="600">Pocket {target.pocket}</tspan>
          <tspan dx="12">
            X {mm(target.x)} Y {mm(target.y)}
          </tspan>
        </text>
      )}
      {at && (
        <text x={Math.max(270, width * 0.38)} y={bottom + 26} style={{ fontSize: 15, fill: "var(--now)" }} data-now>
          spindle now X {mm(at[0])} Y {mm(at[1])} Z {mm(at[2])}
        </text>
      )}
      <text x={width - 16} y={bottom + 26} textAnchor="end" className="caption">
        {statedScale(to.scale)} {unitOf("length", unit)}
      </text>
    </svg>
  );
}

function Captions({ to }: { to: Projection }) {
  return (
    <g className="caption">
      <text x={18} y={20} className="caption">
        Plan
      </text>
      <text x={18} y={to.front.top - 10} className="caption">
        Front
      </text>
      <text x={to.side.left} y={to.front.top - 10} className="caption">
        Side
      </text>
      <text x={to.side.left} y={20} className="caption">
        Where
      </text>
    </g>
  );
}

function TravelEnds({ setup, to }: { setup: Setup; to: Projection }) {
  const { X, Y } = setup.machine.axes;
  const { plan } = to;
  const inside = (y: number) => y > plan.top && y < plan.top + plan.height;
  const y = to.atY(Y.greatest);
  return (
    <g>
      <rect
        x={to.atX(X.least)}
        y={y}
        width={(X.greatest - X.least) * to.scale}
        height={(Y.greatest - Y.least) * to.scale}
        fill="none"
        className="line-hidden"
      />
      {inside(y) && (
        <text x={plan.left + plan.width - 4} y={y - 4} textAnchor="end" className="caption">
          travel ends
        </text>
      )}
    </g>
  );
}

function PlanPockets({ scene, to, carried }: { scene: Scene; to: Projection; carried: number }) {
  const rack = scene.rack;
  const picked = useWork((work) => work.picked);
  const pair = useWork((work) => work.pair);
  if (!rack) return null;
  const dense =
    Math.hypot(
      (rack.pockets[1]?.x ?? 0) - (rack.pockets[0]?.x ?? 0),
      (rack.pockets[1]?.y ?? 99) - (rack.pockets[0]?.y ?? 0),
    ) *
      to.scale <
    26;
  return (
    <g>
      {rack.pockets.map((pocket) => {
        const [x, y] = [to.atX(pocket.x), to.atY(pocket.y)];
        const tool =
          pocket.tool && pocket.tool !== carried ? scene.tools.find((entry) => entry.number === pocket.tool) : null;
        const radius = rack.nut_radius * to.scale;
        const chosen =
          pocket.tool !== 0 &&
          (pocket.tool === picked || (picked === null && (pocket.tool === pair?.from || pocket.tool === pair?.to)));
        const name = pocket.reserved ? "reserved" : pocket.tool ? `T${pocket.tool}` : "empty";
        return (
          <g
            key={pocket.pocket}
            role="button"
            tabIndex={pocket.tool ? 0 : -1}
            aria-label={`Pocket ${pocket.pocket}, ${name}`}
            aria-disabled={!pocket.tool}
            className={pocket.tool ? "pocket" : ""}
            onClick={() => pocket.tool && useWork.getState().pick(pocket.tool)}
            onKeyDown={(event) => {
              if (event.key === "Enter" && pocket.tool) useWork.getState().pick(pocket.tool);
            }}
          >
            <title>{`Pocket ${pocket.pocket}: ${name}`}</title>
            <circle cx={x} cy={y} r={Math.max(20, radius)} fill="transparent" />
            <path
              d={`M${x - radius - 6} ${y}H${x + radius + 6}M${x} ${y - radius - 6}V${y + radius + 6}`}
              className="line-centre"
            />
            {!pocket.reserved && (
              <>
                <circle
                  cx={x}
                  cy={y}
                  r={radius}
                  fill={tool ? "var(--steel)" : "var(--sheet)"}
                  className="line-outline ring"
                  style={chosen ? { stroke: "var(--now)", strokeWidth: 2.25 } : undefined}
                />
                {tool ? (
                  <>
                    <polygon
                      points={hexagon(x, y, radius * 0.66)}
                      fill="var(--steel-2)"
                      className="line-thin"
                      style={{ stroke: "var(--ink)" }}
                    />
                    <circle
                      cx={x}
                      cy={y}
                      r={Math.max(1.5, tool.radius * to.scale)}
                      fill="var(--tool)"
                      className="line-thin"
                      style={{ stroke: "var(--ink)" }}
                    />
                  </>
                ) : (
                  <circle cx={x} cy={y} r={radius * 0.62} fill="none" className="line-thin" />
                )}
              </>
            )}
            {!dense && (
              <text x={x} y={y - radius - 8} textAnchor="middle" style={{ fontWeight: 600 }}>
                {pocket.pocket}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

function hexagon(x: number, y: number, r: number): string {
  return [0, 1, 2, 3, 4, 5]
    .map((k) => `${x + r * Math.cos((k * Math.PI) / 3)},${y + r * Math.sin((k * Math.PI) / 3)}`)
    .join(" ");
}

function PlanSpindle({ at, scene, to }: { at: Place; scene: Scene; to: Projection }) {
  const [x, y] = [to.atX(at[0]), to.atY(at[1])];
  const radius = Math.max(...scene.spindle.map((part) => part.radius)) * to.scale;
  return (
    <g pointerEvents="none">
      <circle cx={x} cy={y} r={radius} fill="none" className="line-now" />
      <path
        d={`M${x - radius - 7} ${y}H${x + radius + 7}M${x} ${y - radius - 7}V${y + radius + 7}`}
        className="line-now-thin"
      />
    </g>
  );
}

function PlanDimensions({ setup, derived, to }: { setup: Setup; derived: Derived; to: Projection }) {
  const unit = useUnit();
  const rack = setup.changer?.rack;
  const [first, second] = derived.pockets;
  const last = derived.pockets.at(-1);
  if (!rack || !first || !last) return null;
  const across = Math.abs(last.x - first.x) >= Math.abs(last.y - first.y);
  const datum = rack.datum;
  const mark = datum.at === "pocket" ? derived.pockets[datum.pocket - 1] : { x: datum.x, y: datum.y };
  const below = to.plan.top + to.plan.height;
  const pitch = shown(rack.pitch, "length", unit, true);
  const whole = `${rack.count - 1} × ${pitch} = ${shown((rack.count - 1) * rack.pitch, "length", unit, true)}`;
  return (
    <g>
      {second && across && (
        <>
          <AcrossDimension
            x1={to.atX(Math.min(first.x, second.x))}
            x2={to.atX(Math.max(first.x, second.x))}
            y={below + 8}
            from={to.atY(first.y) + 14}
            text={pitch}
            pointer="/changer/rack/pitch"
            label="Pitch"
          />
          {rack.count > 3 && (
            <AcrossDimension
              x1={to.atX(Math.min(first.x, last.x))}
              x2={to.atX(Math.max(first.x, last.x))}
              y={below + 32}
              from={below + 8}
              text={whole}
            />
          )}
        </>
      )}
      {second && !across && (
        <UprightDimension
          y1={to.atY(first.y)}
          y2={to.atY(second.y)}
          x={to.plan.left - 20}
          from={to.atX(first.x) - 14}
          text={pitch}
          pointer="/changer/rack/pitch"
          label="Pitch"
        />
      )}
      {mark && (
        <g>
          <path d={`M${to.atX(mark.x) - 8} ${to.atY(mark.y)}H${to.plan.left - 6}`} className="line-dimension" />
          <Figure
            x={to.plan.left - 4}
            y={to.atY(mark.y) - 13}
            anchor="end"
            text={`X ${shown(datum.x, "length", unit, true)}`}
            pointer="/changer/rack/datum/x"
            label="Datum X"
          />
          <Figure
            x={to.plan.left - 4}
            y={to.atY(mark.y) + 13}
            anchor="end"
            text={`Y ${shown(datum.y, "length", unit, true)}`}
            pointer="/changer/rack/datum/y"
            label="Datum Y"
          />
        </g>
      )}
      <Figure
        x={to.plan.left + to.plan.width - 4}
        y={below + 8}
        anchor="end"
        text={`bearing ${shown(rack.bearing_deg, "angle", unit, true)}°`}
        pointer="/changer/rack/bearing_deg"
        kind="angle"
        label="Bearing"
      />
    </g>
  );
}

const RUNGS = ["park", "carry", "empty", "hover", "couple"] as const;

function Ladder({ derived, to, at }: { derived: Derived; to: Projection; at: Place | null }) {
  const unit = useUnit();
  const ladder = derived.ladder;
  const levels = RUNGS.map((name) => ({ name, z: ladder[`${name}_z`] }));
  const places = apart(
    levels.map((level) => to.atZ(level.z) + 4.5),
    16,
  );
  return (
    <g>
      {levels.map((level, index) => {
        const now = at !== null && Math.abs(at[2] - level.z) < 0.05;
        const y = to.atZ(level.z);
        const right = to.front.left + to.front.width;
        return (
          <g key={level.name}>
            <path
              d={`M${to.front.left} ${y}H${right}M${to.side.left} ${y}H${to.side.left + to.side.width}`}
              className="line-level"
              style={now ? { stroke: "var(--now)", strokeWidth: 1.25 } : undefined}
            />
            <text
              x={right + 6}
              y={places[index]}
              style={{ fill: now ? "var(--now)" : "var(--ink-2)", fontWeight: now ? 600 : 400 }}
            >
              {level.name} {shown(level.z, "length", unit)}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** The ladder's inputs: a column of figures left of the front view, each led to the level or the span that it gives. */
function HeightDimensions({ setup, derived, to }: { setup: Setup; derived: Derived; to: Projection }) {
  const unit = useUnit();
  const heights = setup.changer?.heights;
  if (!heights) return null;
  const { couple_z, hover_z, empty_z } = derived.ladder;
  const rows: { name: string; label: string; field: keyof typeof heights; from: number; to: number }[] = [
    { name: "margin", label: "Margin", field: "margin", from: empty_z, to: heights.stored_top_z },
    {
      name: "stored top",
      label: "Stored top",
      field: "stored_top_z",
      from: heights.stored_top_z,
      to: heights.stored_top_z,
    },
    { name: "hover gap", label: "Hover gap", field: "hover_gap", from: hover_z, to: couple_z },
    { name: "on spacer", label: "Nose on spacer", field: "touch_z", from: heights.touch_z, to: heights.touch_z },
    {
      name: "depth",
      label: "Pocket depth",
      field: "pocket_depth",
      from: couple_z,
      to: couple_z - heights.pocket_depth,
    },
  ];
  const middles = rows.map((row) => (to.atZ(row.from) + to.atZ(row.to)) / 2);
  const places = apart(
    middles.map((middle, index) => middle - 22 + index * 4),
    23,
  );
  const left = to.front.left;
  return (
    <g>
      <path d={`M${left} ${to.atZ(heights.stored_top_z)}H${left + to.front.width}`} className="line-dimension" />
      {rows.map((row, index) => {
        const x = left + 4 + index * 4;
        const y = places[index] as number;
        const [high, low] = [to.atZ(row.from), to.atZ(row.to)];
        return (
          <g key={row.field}>
            <path d={`M${left - 10} ${y}L${x} ${middles[index]}`} className="line-dimension" />
            {high !== low && (
              <path
                d={`M${x - 3} ${high}h6M${x} ${high}V${low}M${x - 3} ${low}h6`}
                className="line-dimension"
                fill="none"
              />
            )}
            <Figure
              x={left - 8}
              y={y}
              anchor="end"
              text={`${row.name} ${shown(heights[row.field] as number, "length", unit, true)}`}
              pointer={`/changer/heights/${row.field}`}
              label={row.label}
            />
          </g>
        );
      })}
    </g>
  );
}

/** The place of the chosen finding, in the front view. */
function ContactMark({ to }: { to: Projection }) {
  const chosen = useWork((work) => work.chosen);
  if (!chosen?.position || chosen.severity !== "stop") return null;
  const [x, , z] = chosen.position as Place;
  return (
    <circle
      cx={to.atX(x)}
      cy={to.atZ(z)}
      r="14"
      fill="none"
      stroke="var(--stop)"
      strokeWidth="2.4"
      pointerEvents="none"
    />
  );
}
