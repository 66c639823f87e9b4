/** What a routine touches, to scale: the plan above the front view, with the touches in their order and the dimensions that can
 * be edited where they stand. While it is played the tip moves on it. */
import type { Aim, Body, Probing, Routine } from "../../api/client";
import { ClearanceMark } from "../../drawing/clearance";
import { AcrossDimension, UprightDimension } from "../../drawing/dimension";
import { Sheet, useDrawn } from "../../drawing/sheet";
import { useUnit } from "../../fields/rows";
import { shown } from "../../quantity/format";
import { KINDS } from "../../routines";
import { of } from "../../routines/common";
import { useRoutine } from "../../touching/which-routine";
import { placeAt } from "../../trace/evaluate";
import { useTrace } from "../../work/document";
import { usePlayback } from "../../work/playback";

import { bounds, isBox, isInside, numberAt, type Room, roomOf, shownViews, viewsOf } from "./room";

export function RoutineSheet() {
  const { element, ...drawn } = useDrawn<HTMLDivElement>();
  const { index, routine, answer } = useRoutine();
  return (
    <div ref={element} data-drawing className="h-full bg-sheet">
      {answer && drawn.width > 0 && answer.aims.length > 0 && (
        <Drawing index={index} routine={routine} answer={answer} {...drawn} />
      )}
      {answer && !answer.aims.length && (
        <p className="p-6 text-ink-2">{answer.why || "This routine touches nothing: its program stands below."}</p>
      )}
    </div>
  );
}

interface DrawingProps {
  index: number;
  routine: Routine | undefined;
  answer: Probing;
  width: number;
  height: number;
  larger: number;
}

function Drawing({ index, routine, answer, width, height, larger }: DrawingProps) {
  const first = answer.aims[0] as Aim;
  const place = routine ?? first.meets;
  const to = roomOf(bounds(answer.aims, place, answer.clear_z, answer.tip_radius), { width, height });
  return (
    <Sheet
      label={`Touches of ${answer.routine}`}
      title={`${answer.routine}: plan and front view`}
      width={width}
      height={height}
      scale={to.scale}
      larger={larger}
      views={shownViews(to)}
    >
      <defs>
        <clipPath id="plan-room">
          <rect
            x={to.atX(to.x[0])}
            y={to.planTop}
            width={(to.x[1] - to.x[0]) * to.scale}
            height={to.planBottom - to.planTop}
          />
        </clipPath>
        <clipPath id="front-room">
          <rect
            x={to.atX(to.x[0])}
            y={to.frontTop}
            width={(to.x[1] - to.x[0]) * to.scale}
            height={to.frontBottom - to.frontTop}
          />
        </clipPath>
      </defs>
      <Plan part={answer.part} to={to} />
      <Front part={answer.part} to={to} />
      <Axes place={place} to={to} />
      <Levels answer={answer} to={to} />
      {answer.aims.map((aim, number) => (
        <Touch
          key={aim.name}
          aim={aim}
          number={number + 1}
          tip={answer.tip_radius}
          inside={isInside(aim, answer.aims)}
          to={to}
        />
      ))}
      {routine && <Dimensions index={index} routine={routine} answer={answer} to={to} />}
      <Now answer={answer} to={to} />
      <ClearanceMark passed={answer.passed} {...viewsOf(to)} />
    </Sheet>
  );
}

const keyOf = (body: Body) => [body.name, body.x, body.y, body.top, isBox(body) && body.half_x].join(" ");

function outline(body: Extract<Body, { half_x: number }>, to: Room): string {
  const { half_x: w, half_y: h, cos, sin } = body;
  const corners: [number, number][] = [
    [-w, -h],
    [w, -h],
    [w, h],
    [-w, h],
  ];
  return corners
    .map(([dx, dy]) => `${to.atX(body.x + dx * cos - dy * sin)},${to.atY(body.y + dx * sin + dy * cos)}`)
    .join(" ");
}

const fillOf = (body: Body) => (body.part_of === "way" ? "var(--stop-wash)" : "var(--part-2)");

function Plan({ part, to }: { part: Body[]; to: Room }) {
  const drawn = [...part].sort((a, b) => a.top - b.top);
  return (
    <g clipPath="url(#plan-room)">
      {drawn.map((body) =>
        isBox(body) ? (
          <g key={keyOf(body)}>
            <polygon points={outline(body, to)} fill={fillOf(body)} className="line-outline" />
            {body.wells.map((well) => (
              <circle
                key={`${well.x} ${well.y}`}
                cx={to.atX(well.x)}
                cy={to.atY(well.y)}
                r={well.radius * to.scale}
                fill="var(--sheet)"
                className="line-outline"
              />
            ))}
          </g>
        ) : (
          <circle
            key={keyOf(body)}
            cx={to.atX(body.x)}
            cy={to.atY(body.y)}
            r={body.radius * to.scale}
            fill={fillOf(body)}
            className="line-outline"
          />
        ),
      )}
    </g>
  );
}

/** The extent of a body along X. */
function wide(body: Body): [number, number] {
  const by = isBox(body) ? Math.abs(body.half_x * body.cos) + Math.abs(body.half_y * body.sin) : body.radius;
  return [body.x - by, body.x + by];
}

function Front({ part, to }: { part: Body[]; to: Room }) {
  return (
    <g clipPath="url(#front-room)">
      {part.map((body) => {
        const [low, high] = wide(body);
        const box = { y: to.atZ(body.top), height: (body.top - body.bottom) * to.scale };
        return (
          <g key={keyOf(body)}>
            <rect
              x={to.atX(low)}
              width={(high - low) * to.scale}
              {...box}
              fill={fillOf(body)}
              className="line-outline"
            />
            {isBox(body) &&
              body.wells.map((well) => (
                <rect
                  key={`${well.x} ${well.y}`}
                  x={to.atX(well.x - well.radius)}
                  width={2 * well.radius * to.scale}
                  {...box}
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

/** The place where the feature is expected: centre lines in both views. */
function Axes({ place, to }: { place: { x: number; y: number }; to: Room }) {
  const [x, y] = [to.atX(place.x), to.atY(place.y)];
  return (
    <g>
      <path d={`M${x} ${to.planTop}V${to.planBottom}M${x} ${to.frontTop}V${to.frontBottom}`} className="line-centre" />
      <path d={`M${to.atX(to.x[0])} ${y}H${to.atX(to.x[1])}`} className="line-centre" />
    </g>
  );
}

/** Where the tip moves across. */
function Levels({ answer, to }: { answer: Probing; to: Room }) {
  const unit = useUnit();
  const y = to.atZ(answer.clear_z);
  return (
    <g>
      <path d={`M${to.atX(to.x[0])} ${y}H${to.atX(to.x[1])}`} className="line-hidden" />
      <text x={to.atX(to.x[1]) + 6} y={y + 5} className="caption">
        clear {shown(answer.clear_z, "length", unit)}
      </text>
    </g>
  );
}

interface TouchProps {
  aim: Aim;
  number: number;
  tip: number;
  inside: boolean;
  to: Room;
}

/** A touch: where its search begins (thin), where it touches (full), how far it may go on (dashed), and its number. */
function Touch({ aim, number, tip, inside, to }: TouchProps) {
  const { x: wx, y: wy, z: wz } = aim.way;
  const { x: bx, y: by, z: bz } = aim.begins;
  const { x: mx, y: my, z: mz } = aim.meets;
  const down = wz < -0.5;
  const [nx, ny] = numberAt(aim, tip, to, inside);
  const beyond: [number, number] = [mx + wx * aim.beyond, my + wy * aim.beyond];
  const r = Math.max(2, tip * to.scale);
  return (
    <g data-touch={number}>
      {!down && (
        <>
          <circle cx={to.atX(bx)} cy={to.atY(by)} r={r} fill="none" className="line-hidden" />
          <path d={`M${to.atX(bx)} ${to.atY(by)}L${to.atX(mx)} ${to.atY(my)}`} className="line-thin" />
          <path
            d={`M${to.atX(mx)} ${to.atY(my)}L${to.atX(beyond[0])} ${to.atY(beyond[1])}`}
            className="line-thin"
            strokeDasharray="2 3"
          />
        </>
      )}
      <circle cx={to.atX(mx)} cy={to.atY(my)} r={r} fill="var(--tool)" fillOpacity="0.35" className="line-thin" />
      <circle cx={nx} cy={ny} r="9" fill="var(--sheet)" className="line-thin" />
      <text x={nx} y={ny + 4.5} textAnchor="middle" style={{ fontSize: 13, fontWeight: 600 }}>
        {number}
      </text>
      <g clipPath="url(#front-room)">
        <rect
          x={to.atX(mx - tip)}
          y={to.atZ(mz + 2 * tip)}
          width={2 * tip * to.scale}
          height={2 * tip * to.scale}
          rx={r}
          fill="var(--tool)"
          fillOpacity="0.25"
          className="line-thin"
        />
        {down && <path d={`M${to.atX(mx)} ${to.atZ(bz)}V${to.atZ(mz)}`} className="line-thin" />}
      </g>
    </g>
  );
}

/** The dimensions that can be edited where they stand. */
function Dimensions({ index, routine, answer, to }: { index: number; routine: Routine; answer: Probing; to: Room }) {
  const unit = useUnit();
  const base = `/routines/${index}`;
  const view = KINDS.find((entry) => entry.kind === routine.kind);
  const mm = (value: number) => shown(value, "length", unit);
  const side = answer.aims.find((aim) => Math.abs(aim.way.z) < 0.5);
  const left = to.atX(to.x[0]);
  const spans = view?.spans?.(routine) ?? [];
  return (
    <g>
      <UprightDimension
        y1={to.atZ(routine.z)}
        y2={to.atZ(routine.z + routine.clearance)}
        x={left - 26}
        from={left}
        text={mm(routine.clearance)}
        pointer={`${base}/clearance`}
        label="clearance"
      />
      {side && view?.deep && (
        <UprightDimension
          y1={to.atZ(routine.z)}
          y2={to.atZ(routine.z - routine.depth)}
          x={left - 76}
          from={left}
          text={mm(routine.depth)}
          pointer={`${base}/depth`}
          label="depth"
        />
      )}
      <Before aims={answer.aims} routine={routine} base={base} to={to} />
      {spans.map(({ field, axis }) => {
        const size = of(routine, field) as number;
        const label = field.replace("_", " ");
        return axis === "x" ? (
          <AcrossDimension
            key={field}
            x1={to.atX(routine.x - size / 2)}
            x2={to.atX(routine.x + size / 2)}
            y={to.planBottom + 22}
            from={to.atY(routine.y)}
            text={mm(size)}
            pointer={`${base}/${field}`}
            label={label}
          />
        ) : (
          <UprightDimension
            key={field}
            y1={to.atY(routine.y - size / 2)}
            y2={to.atY(routine.y + size / 2)}
            x={to.atX(to.x[1]) + 34}
            from={to.atX(routine.x)}
            text={mm(size)}
            pointer={`${base}/${field}`}
            label={label}
          />
        );
      })}
    </g>
  );
}

/** How far before its surface a search begins, at the first touch that begins so. */
function Before({ aims, routine, base, to }: { aims: Aim[]; routine: Routine; base: string; to: Room }) {
  const unit = useUnit();
  const gap = ({ begins, meets }: Aim) => Math.hypot(begins.x - meets.x, begins.y - meets.y, begins.z - meets.z);
  const aim = aims.find((entry) => Math.abs(gap(entry) - routine.before) < 1e-6);
  if (!aim) return null;
  const shared = {
    text: shown(routine.before, "length", unit),
    pointer: `${base}/before`,
    label: "search begins before",
  };
  const { x: bx, y: by, z: bz } = aim.begins;
  const { x: mx, y: my, z: mz } = aim.meets;
  if (Math.abs(aim.way.x) > 0.7)
    return <AcrossDimension x1={to.atX(bx)} x2={to.atX(mx)} y={to.planTop - 18} from={to.atY(by)} {...shared} />;
  if (Math.abs(aim.way.y) > 0.7)
    return <UprightDimension y1={to.atY(by)} y2={to.atY(my)} x={to.atX(to.x[0]) - 26} from={to.atX(bx)} {...shared} />;
  return <UprightDimension y1={to.atZ(mz)} y2={to.atZ(bz)} x={to.atX(to.x[1]) + 34} from={to.atX(mx)} {...shared} />;
}

/** The tip where it is at the moment of the line of time. */
function Now({ answer, to }: { answer: Probing; to: Room }) {
  const trace = useTrace();
  const time = usePlayback((work) => work.time);
  const place = trace && placeAt(trace, time);
  if (!place) return null;
  const [x, y, z] = place;
  const tip = answer.tip_radius;
  const low = z - answer.tip_length;
  return (
    <g data-now>
      <g clipPath="url(#plan-room)">
        <circle
          cx={to.atX(x)}
          cy={to.atY(y)}
          r={Math.max(2, tip * to.scale)}
          fill="var(--now-wash)"
          className="line-now"
        />
      </g>
      <g clipPath="url(#front-room)">
        <path d={`M${to.atX(x)} ${to.frontTop}V${to.atZ(low + 2 * tip)}`} className="line-now" />
        <rect
          x={to.atX(x - tip)}
          y={to.atZ(low + 2 * tip)}
          width={2 * tip * to.scale}
          height={2 * tip * to.scale}
          rx={tip * to.scale}
          fill="var(--now-wash)"
          className="line-now"
        />
      </g>
    </g>
  );
}
