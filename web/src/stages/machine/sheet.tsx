/** Travel and space: soft limits inside the data sheet's travel, what keeps a part for itself, stored positions, the spindle. */
import type { MachineAnswer } from "../../api/client";
import { PlanBodies, Stored, UprightBodies } from "../../drawing/bodies";
import { AcrossDimension, UprightDimension } from "../../drawing/dimension";
import { type Projection, shownViews } from "../../drawing/projection";
import { Sheet, useDrawn } from "../../drawing/sheet";
import { useUnit } from "../../fields/rows";
import { useLive } from "../../live/live";
import { shown, unitOf } from "../../quantity/format";
import { usePreview, useSetup } from "../../work/document";
import { setFocus, useSelection } from "../../work/selection";
import { type AxisName, type Rectangle, softLimits, travelViews } from "./travel";

export function MachineSheet() {
  const setup = useSetup();
  const scene = usePreview((answer) => answer?.scene);
  const machine = usePreview((answer) => answer?.machine);
  const { element, width, height, larger } = useDrawn<HTMLDivElement>();
  if (!setup || !scene || !machine) return <div ref={element} className="h-full bg-sheet" />;
  const to = travelViews(setup, scene, width, height);
  const { front, side } = to;
  const soft = softLimits(setup, machine, to);
  const pockets = scene.magazine?.pockets ?? [];
  return (
    <div ref={element} data-drawing className="h-full bg-sheet">
      {width > 0 && (
        <Sheet
          label="Drawing of the machine's travel"
          title="Plan, front and side view of the travel"
          width={width}
          height={height}
          scale={to.scale}
          larger={larger}
          views={shownViews(to)}
        >
          <text x={18} y={18} className="caption">
            Plan
          </text>
          <text x={18} y={front.top - 8} className="caption">
            Front
          </text>
          <text x={side.left} y={front.top - 8} className="caption">
            Side
          </text>
          <SheetTravel to={to} />
          <PlanBodies scene={scene} to={to} />
          <KeptClear kept={machine.space.kept_clear} within={soft.plan} to={to} />
          <FreeForJobs rectangle={machine.space.rectangle} to={to} />
          <Zeros to={to} />
          <StoredPositions to={to} />
          <Home to={to} x={machine.axes.X} y={machine.axes.Y} />
          {(["front", "side"] as const).map((view) => (
            <g key={view}>
              <UprightBodies scene={scene} to={to} view={view} />
              <Stored scene={scene} pockets={pockets} to={to} view={view} />
            </g>
          ))}
          {(["plan", "front", "side"] as const).map((view) => (
            <rect key={view} {...soft[view]} fill="none" className="line-outline" />
          ))}
          <Spindle to={to} />
          <TravelDimensions to={to} />
          <LeftOver y={height - 9} narrow={width < 620} />
        </Sheet>
      )}
    </div>
  );
}

/** The data sheet's travel. */
function SheetTravel({ to }: { to: Projection }) {
  const z = useSetup((setup) => setup?.machine.axes.Z);
  if (!z) return null;
  const upright = { y: to.atZ(z.greatest), height: to.atZ(z.least) - to.atZ(z.greatest) };
  const { plan, front, side } = to;
  return (
    <g fill="none" className="line-hidden">
      <rect x={plan.left} y={plan.top} width={plan.width} height={plan.height} />
      <rect x={front.left} width={front.width} {...upright} />
      <rect x={side.left} width={side.width} {...upright} />
    </g>
  );
}

/** What keeps a part of the plan for itself, as far as that is within the soft limits. */
function KeptClear({
  kept,
  within,
  to,
}: {
  kept: MachineAnswer["space"]["kept_clear"];
  within: Rectangle;
  to: Projection;
}) {
  return (
    <g>
      <defs>
        <pattern id="kept-clear" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V7" stroke="var(--warn)" strokeWidth="0.8" />
        </pattern>
      </defs>
      <clipPath id="within-limits">
        <rect {...within} />
      </clipPath>
      {kept.map(({ name, outline }) => (
        <polygon
          key={name}
          points={outline.map(([x, y]) => `${to.atX(x ?? 0)},${to.atY(y ?? 0)}`).join(" ")}
          fill="url(#kept-clear)"
          stroke="var(--warn)"
          strokeWidth="0.9"
          clipPath="url(#within-limits)"
        >
          <title>{name} keeps this for itself: its outline, half the spindle and the margin</title>
        </polygon>
      ))}
    </g>
  );
}

/** The largest upright rectangle that jobs have. */
function FreeForJobs({ rectangle, to }: { rectangle: number[]; to: Projection }) {
  const unit = useUnit();
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = rectangle;
  const size = (value: number) => shown(Math.round(value * 1000) / 1000, "length", unit, true);
  const right = to.plan.left + to.plan.width;
  const top = to.atY(y1);
  return (
    <>
      <rect
        x={to.atX(x0)}
        y={top}
        width={to.atX(x1) - to.atX(x0)}
        height={to.atY(y0) - top}
        fill="none"
        className="line-level"
      />
      <g data-usable>
        <path d={`M${to.atX(x1)} ${top + 14}H${right + 14}`} className="line-level" />
        <text x={right + 18} y={top + 18} className="dimension-text">
          free for jobs
        </text>
        <text x={right + 18} y={top + 37} className="dimension-text">
          {size(x1 - x0)} × {size(y1 - y0)} {unitOf("length", unit)}
        </text>
      </g>
    </>
  );
}

/** The parts' zeros in plan. */
function Zeros({ to }: { to: Projection }) {
  const offsets = useSetup((setup) => setup?.work_offsets) ?? [];
  return offsets.map(({ number, x, y }) => (
    <g key={number}>
      <path d={`M${to.atX(x) - 8} ${to.atY(y)}h16M${to.atX(x)} ${to.atY(y) - 8}v16`} className="line-dimension" />
      <text x={to.atX(x) + 6} y={to.atY(y) - 5} className="caption">
        zero {number}
      </text>
    </g>
  ));
}

/** The travel's ends, measured where they were, as dimensions that can be edited. */
function TravelDimensions({ to }: { to: Projection }) {
  const axes = useSetup((setup) => setup?.machine.axes);
  const unit = useUnit();
  if (!axes) return null;
  const end = (axis: AxisName, which: "least" | "greatest") => {
    const { measured } = axes[axis];
    const value = (measured ?? axes[axis])[which];
    const pointer = `/machine/axes/${axis}/${measured ? "measured/" : ""}${which}`;
    return { value, pointer, said: shown(value, "length", unit, true) };
  };
  const [x, y, z] = [end("X", "greatest"), end("Y", "greatest"), end("Z", "least")];
  const { plan, front } = to;
  const bottom = plan.top + plan.height;
  return (
    <>
      <AcrossDimension
        x1={plan.left}
        x2={to.atX(x.value)}
        y={bottom + 22}
        from={bottom}
        text={`X to ${x.said}`}
        pointer={x.pointer}
        label="X travel to"
      />
      <UprightDimension
        y1={bottom}
        y2={to.atY(y.value)}
        x={plan.left - 44}
        from={plan.left}
        text={`Y to ${y.said}`}
        pointer={y.pointer}
        label="Y travel to"
      />
      <UprightDimension
        y1={to.atZ(axes.Z.greatest)}
        y2={to.atZ(z.value)}
        x={front.left - 44}
        from={front.left}
        text={`Z ${z.said}`}
        pointer={z.pointer}
        label="Z travel from"
      />
    </>
  );
}

/** How much of the data sheet's table is left. */
function LeftOver({ y, narrow }: { y: number; narrow: boolean }) {
  const space = usePreview((answer) => answer?.machine?.space);
  if (!space) return null;
  const part = (value: number) => `${((100 * value) / space.data_sheet).toFixed(1)} %`;
  return (
    <text x={18} y={narrow ? y - 18 : y} data-left>
      of the data sheet's table: {part(space.within_limits)} within the soft limits,{" "}
      <tspan fontWeight="600" {...(narrow ? { x: 18, dy: 18 } : {})}>
        {part(space.left)} left for jobs
      </tspan>
    </text>
  );
}

function Home({ to, x, y }: { to: Projection; x?: AxisEnds; y?: AxisEnds }) {
  const setup = useSetup();
  if (!setup || !x || !y) return null;
  const at = (axis: "X" | "Y", ends: AxisEnds) =>
    setup.machine.axes[axis].home === "least" ? ends.soft_least : ends.soft_greatest;
  const px = to.atX(at("X", x));
  const py = to.atY(at("Y", y));
  const right = setup.machine.axes.X.home === "greatest";
  const low = setup.machine.axes.Y.home === "least";
  return (
    <g>
      <circle cx={px} cy={py} r="6" fill="none" className="line-outline" />
      <text
        x={px + (right ? 10 : -10)}
        y={py + (low ? 18 : -9)}
        textAnchor={right ? "start" : "end"}
        className="caption"
      >
        home
      </text>
    </g>
  );
}

interface AxisEnds {
  soft_least: number;
  soft_greatest: number;
}

/** Where the stored positions are in plan. */
function StoredPositions({ to }: { to: Projection }) {
  const positions = useSetup((setup) => setup?.positions) ?? [];
  const focus = useSelection((work) => work.focus);
  return (
    <g>
      {positions.map((position, index) => {
        const known = Object.assign({}, ...position.moves) as { X?: number | null; Y?: number | null };
        if (typeof known.X !== "number" || typeof known.Y !== "number") return null;
        const x = to.atX(known.X);
        const y = to.atY(known.Y);
        const here = focus?.startsWith(`/positions/${index}/`);
        const step = position.moves.findIndex((move) => typeof move.X === "number");
        return (
          <g
            key={position.name}
            className="editable"
            role="button"
            tabIndex={0}
            aria-label={`Stored position ${position.name}`}
            onClick={() => setFocus(`/positions/${index}/moves/${step}/X`)}
            onKeyDown={(event) => event.key === "Enter" && setFocus(`/positions/${index}/moves/${step}/X`)}
          >
            <path
              d={`M${x} ${y - 7}l7 7-7 7-7-7Z`}
              fill="var(--sheet)"
              className={here ? "line-now" : "line-dimension"}
            />
            <text
              data-soft
              x={x + 10}
              y={y + 4}
              className={here ? "" : "caption"}
              fill={here ? "var(--now)" : undefined}
            >
              {position.name}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** The spindle where the machine tells that it stands. */
function Spindle({ to }: { to: Projection }) {
  const position = useLive((live) => live.reported?.position);
  const homed = useLive((live) => live.reported?.homed);
  const nose = useSetup((setup) => setup?.machine.spindle);
  if (!nose || !homed || position?.X === undefined || position.Y === undefined || position.Z === undefined) return null;
  const r = (nose.nose_diameter / 2) * to.scale;
  const [x, y, z, s] = [to.atX(position.X), to.atY(position.Y), to.atZ(position.Z), to.atS(position.Y)];
  return (
    <g data-spindle>
      <circle cx={x} cy={y} r={Math.max(4, r)} fill="none" className="line-now" />
      <path d={`M${x - 10} ${y}h20M${x} ${y - 10}v20`} className="line-now-thin" />
      {[x, s].map((at) => (
        <path key={at} d={`M${at - Math.max(3, r)} ${z}h${2 * Math.max(3, r)}M${at} ${z}v-16`} className="line-now" />
      ))}
    </g>
  );
}
