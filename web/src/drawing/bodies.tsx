/** Bodies, nuts, tools and the spindle in the three views. Shapes come from the server in millimetres; here they are drawn. */
import type { Body, Box, Magazine, Scene } from "../api/client";
import type { Place } from "../trace/evaluate";
import type { Projection } from "./projection";

type SceneTool = Scene["tools"][number];
type Upright = "front" | "side";

function isBox(body: Body): body is Box {
  return "half_x" in body;
}

function corners(body: Box): [number, number][] {
  const { half_x: w, half_y: h, cos, sin } = body;
  return (
    [
      [-w, -h],
      [w, -h],
      [w, h],
      [-w, h],
    ] as [number, number][]
  ).map(([dx, dy]) => [body.x + dx * cos - dy * sin, body.y + dx * sin + dy * cos]);
}

/** The extent of a body along X or Y. */
export function extent(body: Body, axis: 0 | 1): [number, number] {
  if (!isBox(body)) {
    const middle = axis ? body.y : body.x;
    return [middle - body.radius, middle + body.radius];
  }
  const all = corners(body).map((corner) => corner[axis]);
  return [Math.min(...all), Math.max(...all)];
}

const FILL: Record<string, string> = {
  ground: "none",
  changer: "var(--part)",
  reserved: "var(--steel)",
};

function fill(body: Body): string {
  return FILL[body.part_of] ?? "var(--part-2)";
}

/** What tells bodies apart: a fork is several of one name. */
function keyOf(body: Body): string {
  return [body.name, body.x, body.y, body.bottom, body.top, isBox(body) && body.half_x].join(" ");
}

export function PlanBodies({ scene, to }: { scene: Scene; to: Pick<Projection, "atX" | "atY" | "scale"> }) {
  const drawn = scene.bodies.filter((body) => body.part_of !== "ground").sort((a, b) => a.top - b.top);
  return (
    <g>
      {drawn.map((body) =>
        isBox(body) ? (
          <polygon
            key={keyOf(body)}
            points={corners(body)
              .map(([x, y]) => `${to.atX(x)},${to.atY(y)}`)
              .join(" ")}
            fill={fill(body)}
            className="line-outline"
          >
            <title>{body.name}</title>
          </polygon>
        ) : (
          <circle
            key={keyOf(body)}
            cx={to.atX(body.x)}
            cy={to.atY(body.y)}
            r={body.radius * to.scale}
            fill={fill(body)}
            className="line-outline"
          >
            <title>{body.name}</title>
          </circle>
        ),
      )}
    </g>
  );
}

export function UprightBodies({ scene, to, view }: { scene: Scene; to: Projection; view: Upright }) {
  const across = view === "front" ? to.atX : to.atS;
  const axis = view === "front" ? 0 : 1;
  return (
    <g>
      {scene.bodies.map((body) => {
        const [low, high] = extent(body, axis);
        const floor = body.part_of === "ground";
        const box = {
          x: across(low),
          y: to.atZ(body.top),
          width: across(high) - across(low),
          height: to.atZ(body.bottom) - to.atZ(body.top),
        };
        if (floor) return <Floor key={keyOf(body)} x={box.x} y={box.y} width={box.width} />;
        return (
          <g key={keyOf(body)}>
            <rect {...box} fill={fill(body)} className="line-outline">
              <title>{body.name}</title>
            </rect>
            {view === "front" &&
              isBox(body) &&
              Math.abs(body.sin) < 0.02 &&
              body.wells.map((well) => (
                <rect
                  key={`${well.x},${well.y}`}
                  x={across(well.x - well.radius)}
                  width={2 * well.radius * to.scale}
                  y={box.y}
                  height={box.height}
                  fill="var(--sheet)"
                  className="line-thin"
                />
              ))}
          </g>
        );
      })}
    </g>
  );
}

/** A face that something stands on: a heavy line with hatching below it. */
function Floor({ x, y, width }: { x: number; y: number; width: number }) {
  const count = Math.floor(width / 10);
  return (
    <g>
      <path d={`M${x} ${y}h${width}`} className="line-heavy" />
      <path
        d={Array.from({ length: count }, (_, index) => `M${x + (index + 1) * 10} ${y}l-6 7`).join("")}
        className="line-thin"
        fill="none"
      />
    </g>
  );
}

interface HeldProps {
  tool: SceneTool;
  magazine: Magazine | null | undefined;
  x: number;
  z: number;
  to: Upward;
  now?: boolean;
}

/** The nut or holder with its tool, hanging from a gauge line at (x, z) of an upright view: the cylinders that are run. */
export function HeldTool({ tool, magazine, x, z, to, now }: HeldProps) {
  const line = now ? "line-now" : "line-outline";
  return (
    <g data-firm>
      {magazine && magazine.holds !== "nut" && magazine.above > 0 && (
        <path d={taper(x, z, magazine, to)} fill="var(--steel-2)" className={line} />
      )}
      {[...tool.parts].reverse().map((part, index) => (
        <rect
          key={`${part.name} ${part.high}`}
          x={x - part.radius * to.scale}
          y={to.atZ(z + part.high)}
          width={2 * part.radius * to.scale}
          height={(part.high - part.low) * to.scale}
          fill={index === 0 ? "var(--tool)" : "var(--steel)"}
          className={index > 0 ? line : now ? "line-now-thin" : "line-thin"}
          style={{ stroke: index > 0 || now ? undefined : "var(--ink)" }}
        />
      ))}
    </g>
  );
}

type Upward = Pick<Projection, "atZ" | "scale">;

/** The taper above the gauge line and the knob on it. */
function taper(x: number, z: number, held: Magazine, to: Upward): string {
  const at = (part: number) => to.atZ(z + held.above * part);
  const wide = (part: number) => held.radius * part * to.scale;
  return [
    `M${x - wide(0.7)} ${at(0)}L${x - wide(0.42)} ${at(0.74)}H${x - wide(0.2)}V${at(0.86)}H${x - wide(0.28)}V${at(1)}`,
    `H${x + wide(0.28)}V${at(0.86)}H${x + wide(0.2)}V${at(0.74)}H${x + wide(0.42)}L${x + wide(0.7)} ${at(0)}Z`,
  ].join("");
}

/** A pocket of the moment: where it is, and the tool in it (0: none). */
export interface PocketNow {
  pocket: number;
  x: number;
  y: number;
  tool: number;
  reserved: boolean;
}

/** What is stored, where it is now. */
export function Stored(props: { scene: Scene; pockets: PocketNow[]; to: Projection; view: Upright }) {
  const { scene, pockets, to, view } = props;
  return (
    <g>
      {pockets.map((pocket) => {
        const tool = scene.tools.find((entry) => entry.number === pocket.tool);
        if (!tool || !scene.magazine) return null;
        return (
          <HeldTool
            key={pocket.pocket}
            tool={tool}
            magazine={scene.magazine}
            x={view === "front" ? to.atX(pocket.x) : to.atS(pocket.y)}
            z={scene.magazine.couple_z}
            to={to}
          />
        );
      })}
    </g>
  );
}

/** The spindle with what it carries, in the colour of now. */
export function UprightSpindle(props: { scene: Scene; at: Place; tool: number; to: Projection; view: Upright }) {
  const { scene, at, to, view } = props;
  const x = view === "front" ? to.atX(at[0]) : to.atS(at[1]);
  const tool = scene.tools.find((entry) => entry.number === props.tool);
  return (
    <g>
      {[...scene.spindle].reverse().map((part) => (
        <rect
          key={part.name}
          data-firm
          x={x - part.radius * to.scale}
          y={to.atZ(at[2] + part.high)}
          width={2 * part.radius * to.scale}
          height={(part.high - part.low) * to.scale}
          fill="var(--sheet)"
          className="line-now"
        />
      ))}
      {tool && <HeldTool tool={tool} magazine={scene.magazine} x={x} z={at[2]} to={to} now />}
      <path
        d={`M${x} ${to.front.top}V${to.front.top + to.front.height}`}
        className="line-now-thin"
        strokeDasharray="12 3 3 3"
      />
    </g>
  );
}

/** What the tool in the spindle is called, beside it; outside of what is clipped, since it makes way. */
export function SpindleToolName({ at, tool, to, view }: { at: Place; tool: number; to: Projection; view: Upright }) {
  const x = view === "front" ? to.atX(at[0]) : to.atS(at[1]);
  const { left, width } = to[view];
  if (x < left || x > left + width) return null;
  return (
    <text
      data-soft
      x={x + 20}
      y={Math.max(to.front.top + 16, to.atZ(at[2]) - 8)}
      style={{ fill: "var(--now)", fontWeight: 600, fontSize: 15 }}
    >
      T{tool}
    </text>
  );
}
