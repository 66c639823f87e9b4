/** Travel and space: soft limits inside the data sheet's travel, what keeps a part for itself, stored positions, the spindle. */
import { PlanBodies, Stored, UprightBodies } from "../../drawing/bodies";
import { AcrossDimension, UprightDimension } from "../../drawing/dimension";
import { type Projection, project, statedScale } from "../../drawing/projection";
import { useSize } from "../../drawing/use-size";
import { useLive } from "../../live/live";
import { shown, unitOf } from "../../quantity/format";
import { useUnit } from "../../quantity/rows";
import { useWork } from "../../work/store";

export function MachineSheet() {
  const setup = useWork((work) => work.document);
  const scene = useWork((work) => work.answer?.scene);
  const machine = useWork((work) => work.answer?.machine);
  const unit = useUnit();
  const { element, width, height } = useSize<HTMLDivElement>();
  if (!setup || !scene || !machine) return <div ref={element} className="h-full bg-sheet" />;
  const { X, Y, Z } = setup.machine.axes;
  const lowest = Math.min(Z.least, ...scene.bodies.map((body) => body.bottom));
  const to = project(
    { x: [X.least, X.greatest], y: [Y.least, Y.greatest], z: [lowest, Z.greatest + 20] },
    {
      width: width || 600,
      height: (height || 600) - 26,
      margin: { left: 92, top: 28, right: 30, bottom: 20 },
      between: 66,
      beside: 60,
    },
  );
  const text = (value: number) => shown(value, "length", unit, true);
  const { plan, front, side } = to;
  const soft = {
    x: to.atX(machine.axes.X?.soft_least ?? X.least),
    y: to.atY(machine.axes.Y?.soft_greatest ?? Y.greatest),
    right: to.atX(machine.axes.X?.soft_greatest ?? X.greatest),
    bottom: to.atY(machine.axes.Y?.soft_least ?? Y.least),
  };
  const top = to.atZ(machine.axes.Z?.soft_greatest ?? Z.greatest);
  const deep = to.atZ(machine.axes.Z?.soft_least ?? Z.least);
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = machine.space.rectangle;
  const end = (axis: "X" | "Y" | "Z", which: "least" | "greatest") =>
    setup.machine.axes[axis].measured ? `/machine/axes/${axis}/measured/${which}` : `/machine/axes/${axis}/${which}`;
  const travel = (axis: "X" | "Y" | "Z", which: "least" | "greatest") =>
    (setup.machine.axes[axis].measured ?? setup.machine.axes[axis])[which];
  return (
    <div ref={element} data-drawing className="h-full bg-sheet">
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label="Drawing of the machine's travel">
          <title>Plan, front and side view of the travel</title>
          <defs>
            <pattern id="kept-clear" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <path d="M0 0V7" stroke="var(--warn)" strokeWidth="0.8" />
            </pattern>
          </defs>
          <text x={18} y={18} className="caption">
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
          <clipPath id="within-limits">
            <rect x={soft.x} y={soft.y} width={soft.right - soft.x} height={soft.bottom - soft.y} />
          </clipPath>
          {machine.space.kept_clear.map((kept) => (
            <polygon
              key={kept.name}
              points={kept.outline.map(([x, y]) => `${to.atX(x ?? 0)},${to.atY(y ?? 0)}`).join(" ")}
              fill="url(#kept-clear)"
              stroke="var(--warn)"
              strokeWidth="0.9"
              clipPath="url(#within-limits)"
            >
              <title>{kept.name} keeps this for itself: its outline, half the spindle and the margin</title>
            </polygon>
          ))}
          <rect
            x={soft.x}
            y={soft.y}
            width={soft.right - soft.x}
            height={soft.bottom - soft.y}
            fill="none"
            className="line-outline"
          />
          <rect
            x={to.atX(x0)}
            y={to.atY(y1)}
            width={to.atX(x1) - to.atX(x0)}
            height={to.atY(y0) - to.atY(y1)}
            fill="none"
            className="line-level"
          />
          <g data-usable>
            <path d={`M${to.atX(x1)} ${to.atY(y1) + 14}H${plan.left + plan.width + 14}`} className="line-level" />
            <text x={plan.left + plan.width + 18} y={to.atY(y1) + 18} className="dimension-text">
              free for jobs
            </text>
            <text x={plan.left + plan.width + 18} y={to.atY(y1) + 37} className="dimension-text">
              {text(Math.round((x1 - x0) * 1000) / 1000)} × {text(Math.round((y1 - y0) * 1000) / 1000)}{" "}
              {unitOf("length", unit)}
            </text>
          </g>
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
          <StoredPositions to={to} />
          <Home to={to} x={machine.axes.X} y={machine.axes.Y} />
          {[front, side].map((view) => (
            <g key={view.left}>
              <rect
                x={view.left}
                y={to.atZ(Z.greatest)}
                width={view.width}
                height={to.atZ(Z.least) - to.atZ(Z.greatest)}
                fill="none"
                className="line-hidden"
              />
            </g>
          ))}
          <UprightBodies scene={scene} to={to} view="front" />
          <Stored scene={scene} pockets={scene.magazine?.pockets ?? []} to={to} view="front" />
          <UprightBodies scene={scene} to={to} view="side" />
          <Stored scene={scene} pockets={scene.magazine?.pockets ?? []} to={to} view="side" />
          <rect
            x={soft.x}
            y={top}
            width={soft.right - soft.x}
            height={deep - top}
            fill="none"
            className="line-outline"
          />
          <rect
            x={to.atS(machine.axes.Y?.soft_least ?? Y.least)}
            y={top}
            width={to.atS(machine.axes.Y?.soft_greatest ?? Y.greatest) - to.atS(machine.axes.Y?.soft_least ?? Y.least)}
            height={deep - top}
            fill="none"
            className="line-outline"
          />
          <Spindle to={to} />
          <AcrossDimension
            x1={plan.left}
            x2={to.atX(travel("X", "greatest"))}
            y={plan.top + plan.height + 22}
            from={plan.top + plan.height}
            text={`X to ${text(travel("X", "greatest"))}`}
            pointer={end("X", "greatest")}
            label="X travel to"
          />
          <UprightDimension
            y1={plan.top + plan.height}
            y2={to.atY(travel("Y", "greatest"))}
            x={plan.left - 44}
            from={plan.left}
            text={`Y to ${text(travel("Y", "greatest"))}`}
            pointer={end("Y", "greatest")}
            label="Y travel to"
          />
          <UprightDimension
            y1={to.atZ(Z.greatest)}
            y2={to.atZ(travel("Z", "least"))}
            x={front.left - 44}
            from={front.left}
            text={`Z ${text(travel("Z", "least"))}`}
            pointer={end("Z", "least")}
            label="Z travel from"
          />
          <LeftOver y={height - 9} />
          <text x={width - 12} y={height - 9} textAnchor="end" className="caption">
            {statedScale(to.scale)}
          </text>
        </svg>
      )}
    </div>
  );
}

/** How much of the data sheet's table is left. */
function LeftOver({ y }: { y: number }) {
  const space = useWork((work) => work.answer?.machine?.space);
  if (!space) return null;
  const part = (value: number) => `${((100 * value) / space.data_sheet).toFixed(1)} %`;
  return (
    <text x={18} y={y} data-left>
      of the data sheet's table: {part(space.within_limits)} within the soft limits,{" "}
      <tspan fontWeight="600">{part(space.left)} left for jobs</tspan>
    </text>
  );
}

function Home({ to, x, y }: { to: Projection; x?: AxisEnds; y?: AxisEnds }) {
  const setup = useWork((work) => work.document);
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
  const positions = useWork((work) => work.document?.positions) ?? [];
  const focus = useWork((work) => work.focus);
  const { setFocus } = useWork.getState();
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
            <text x={x + 10} y={y + 4} className={here ? "" : "caption"} fill={here ? "var(--now)" : undefined}>
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
  const position = useLive((live) => live.told?.position);
  const homed = useLive((live) => live.told?.homed);
  const nose = useWork((work) => work.document?.machine.spindle);
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
