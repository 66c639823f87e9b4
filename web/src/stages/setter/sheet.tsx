/** The window of a setter to scale: the longest tool, the one that is measured now and the shortest stand over the plane;
 * where the search begins and ends; what does not fit is drawn not fitting. */
import type { Scene, Setter, SetterAnswer } from "../../api/client";
import { useSize } from "../../common/use-size";
import { HeldTool } from "../../drawing/bodies";
import { Figure } from "../../drawing/dimension";
import { apart } from "../../drawing/projection";
import { Sheet } from "../../drawing/sheet";
import { useUnit } from "../../fields/rows";
import { shown } from "../../quantity/format";
import { carriedAt, placeAt } from "../../trace/evaluate";
import { usePreview, useSetup, useTrace } from "../../work/document";
import { usePlayback } from "../../work/playback";

import { useSetter } from "./which";
import { type Window, windowOf } from "./window";

const NOSE = 26;
/** mm of the nose that are drawn above the gauge line */

export function SetterSheet() {
  const { element, width, height } = useSize<HTMLDivElement>();
  const { index, answer } = useSetter();
  const setter = useSetup((setup) => setup?.setters[index]);
  const scene = usePreview((answer) => answer?.scene);
  return (
    <div ref={element} data-drawing className="h-full bg-sheet">
      {setter && answer && scene && width > 0 && (
        <Drawing setter={setter} index={index} answer={answer} scene={scene} width={width} height={height} />
      )}
    </div>
  );
}

interface DrawingProps {
  setter: Setter;
  index: number;
  answer: SetterAnswer;
  scene: Scene;
  width: number;
  height: number;
}

function Drawing({ setter, index, answer, scene, width, height }: DrawingProps) {
  const top = answer.top_z;
  const unit = useUnit();
  const body = scene.bodies.find((entry) => entry.makes === setter.input && entry.top === answer.contact_z);
  const begins = Math.max(top, ...answer.tools.map((tool) => tool.begin_z));
  const low = Math.max(setter.plane_z - 60, body?.bottom ?? setter.plane_z - 40) - 8;
  const nose = scene.spindle[0]?.radius ?? 20;
  const to = windowOf({ low, high: begins + NOSE + 6 }, 3, 2.6 * nose, { width, height });
  const set = {
    setter,
    index,
    answer,
    scene,
    to,
    top,
    radius: bodyRadius(body),
    bottom: Math.max(low, body?.bottom ?? low),
  };
  return (
    <Sheet
      label="Window of the setter"
      title="Where tools stand over the setter, from the front"
      width={width}
      height={height}
      scale={to.scale}
    >
      <Levels {...set} width={width} />
      <Column {...set} column={0} tool={answer.longest} name="longest" />
      <Now {...set} />
      <Column {...set} column={2} tool={answer.shortest} name="shortest" />
      <Inputs {...set} />
      <Fits answer={answer} height={height} mm={(value) => shown(value, "length", unit)} />
    </Sheet>
  );
}

function bodyRadius(body: Scene["bodies"][number] | undefined): number {
  if (!body) return 12;
  return "half_x" in body ? body.half_x : body.radius;
}

interface Drawn {
  setter: Setter;
  index: number;
  answer: SetterAnswer;
  scene: Scene;
  to: Window;
  top: number;
  radius: number;
  bottom: number;
}

/** The heights that all columns share: the top of travel, the plane, and the lowest that a tip may go. */
function Levels({ setter, to, top, width }: Drawn & { width: number }) {
  const unit = useUnit();
  const levels: [string, number][] = [
    ["top of travel", top],
    ["plane", setter.plane_z],
    ["pushed at most to", setter.plane_z - setter.overtravel],
  ];
  const places = apart(
    levels.map(([, z]) => to.atZ(z) + 5),
    17,
  );
  return (
    <g>
      {levels.map(([name, z], index) => (
        <g key={name}>
          <path d={`M186 ${to.atZ(z)}H${width - 146}`} className={name === "plane" ? "line-level" : "line-hidden"} />
          <text x={width - 140} y={places[index]} className="caption">
            {name} {shown(z, "length", unit)}
          </text>
        </g>
      ))}
    </g>
  );
}

/** The setter, from the front. */
function Body({ x, to, answer, radius, bottom }: Drawn & { x: number }) {
  const top = to.atZ(answer.contact_z);
  return (
    <g>
      <rect
        x={x - radius * to.scale}
        y={top}
        width={2 * radius * to.scale}
        height={Math.max(2, to.atZ(bottom) - top)}
        fill="var(--steel)"
        className="line-outline"
      />
      <path d={`M${x} ${top - 10}V${to.atZ(bottom) + 6}`} className="line-centre" />
    </g>
  );
}

/** A tool that stands on the plane, and where its search begins (dashed), in one column. */
function Column(props: Drawn & { column: number; tool: number | null; name: string }) {
  const { setter, answer, scene, to, column, tool, name } = props;
  const unit = useUnit();
  const held = scene.tools.find((entry) => entry.number === tool);
  const at = answer.tools.find((entry) => entry.number === tool);
  if (!held || !at) return null;
  const x = to.column(column);
  const z = at.begin_z - setter.margin;
  return (
    <g data-column={name}>
      <Body {...props} x={x} />
      <Nose x={x} z={z} scene={scene} to={to} />
      <HeldTool tool={held} magazine={scene.magazine} x={x} z={z} to={to} />
      <path
        d={`M${x - 34} ${to.atZ(at.begin_z)}H${x + 34}M${x - 34} ${to.atZ(z)}H${x + 34}`}
        className={at.fits ? "line-level" : "line-heavy"}
        style={at.fits ? undefined : { stroke: "var(--stop)" }}
      />
      <text x={x} y={to.bottom + 16} textAnchor="middle" style={{ fontWeight: 600 }}>
        T{tool}
      </text>
      <text x={x + 38} y={to.atZ(at.begin_z) + 5} className="caption">
        {shown(at.begin_z, "length", unit)}
      </text>
      <text x={x} y={to.bottom + 33} textAnchor="middle" className="caption">
        {name}
      </text>
    </g>
  );
}

function Nose({ x, z, scene, to, now }: { x: number; z: number; scene: Scene; to: Window; now?: boolean }) {
  const nose = scene.spindle[0];
  if (!nose) return null;
  return (
    <rect
      x={x - nose.radius * to.scale}
      y={to.atZ(z + NOSE)}
      width={2 * nose.radius * to.scale}
      height={NOSE * to.scale}
      fill={now ? "var(--sheet)" : "none"}
      className={now ? "line-now" : "line-thin"}
      strokeDasharray={now ? undefined : "4 3"}
    />
  );
}

/** The tool that is measured, where it is at the moment of the line of time. */
function Now(props: Drawn) {
  const { scene, to } = props;
  const trace = useTrace();
  const time = usePlayback((work) => work.time);
  const x = to.column(1);
  const place = trace ? placeAt(trace, time) : null;
  const carried = trace ? carriedAt(trace, time) : 0;
  const held = scene.tools.find((entry) => entry.number === carried);
  const over =
    place &&
    props.answer.place &&
    Math.hypot(place[0] - Number(props.answer.place[0]), place[1] - Number(props.answer.place[1])) < 1;
  return (
    <g data-column="now">
      <Body {...props} x={x} />
      {place && (
        <>
          <Nose x={x} z={place[2]} scene={scene} to={to} now />
          {held && <HeldTool tool={held} magazine={scene.magazine} x={x} z={place[2]} to={to} now />}
          <text x={x} y={to.bottom + 16} textAnchor="middle" style={{ fontWeight: 600, fill: "var(--now)" }}>
            {carried ? `T${carried}` : "empty"} now
          </text>
          <text x={x} y={to.bottom + 33} textAnchor="middle" className="caption">
            {over ? "over the setter" : "not over it yet"}
          </text>
        </>
      )}
    </g>
  );
}

/** The heights that are entered, left of the columns, each led to where it is. */
function Inputs({ setter, index, to }: Drawn) {
  const unit = useUnit();
  const { plane_z: plane, margin, overtravel, back_off: back } = setter;
  const rows: [string, string, number, number, number][] = [
    ["margin", "margin", margin, plane, plane + margin],
    ["back-off", "back_off", back, plane, plane + back],
    ["plane", "plane_z", plane, plane, plane],
    ["overtravel", "overtravel", overtravel, plane - overtravel, plane],
  ];
  const places = apart(
    rows.map(([, , , from, end], row) => (to.atZ(from) + to.atZ(end)) / 2 - 39 + row * 26),
    26,
    to.bottom + 8,
  );
  return (
    <g>
      {rows.map(([name, field, value, from, end], row) => {
        const x = 176 + row * 4;
        const y = places[row] as number;
        return (
          <g key={field}>
            <path d={`M156 ${y}L${x} ${(to.atZ(from) + to.atZ(end)) / 2}`} className="line-dimension" />
            {from !== end && (
              <path
                d={`M${x - 3} ${to.atZ(from)}h6M${x} ${to.atZ(from)}V${to.atZ(end)}M${x - 3} ${to.atZ(end)}h6`}
                className="line-dimension"
                fill="none"
              />
            )}
            <Figure
              x={158}
              y={y}
              anchor="end"
              text={`${name} ${shown(value, "length", unit, true)}`}
              pointer={`/setters/${index}/${field}`}
              label={name}
              twice={field === "plane_z"}
            />
          </g>
        );
      })}
    </g>
  );
}

/** Whether the longest and the shortest tool fit, in words. */
function Fits({ answer, height, mm }: { answer: SetterAnswer; height: number; mm: (value: number) => string }) {
  const window = answer.window;
  const bad = answer.tools.find((tool) => !tool.fits);
  return (
    <text x="18" y={height - 12} style={{ fontSize: 15, fill: bad ? "var(--stop)" : undefined }} data-fits={!bad}>
      {bad
        ? bad.says
        : window && `Length unknown: search from ${mm(window.approach_z)}, ${mm(window.search_depth)} deep`}
    </text>
  );
}
