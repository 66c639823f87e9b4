/** Speed over time across each axis, the setting in force against the one kept beside it. */
import type { Crossing, Setup } from "../../api/client";
import { useSize } from "../../common/use-size";
import { useUnit } from "../../fields/rows";
import { shown, unitOf } from "../../quantity/format";
import { may } from "../../session/session";
import { usePreview, useSetup } from "../../work/document";
import { edit } from "../../work/editing";

const AXES = ["X", "Y", "Z"] as const;

type Axis = Setup["machine"]["axes"]["X"];

export function SpeedCurves() {
  const machine = usePreview((answer) => answer?.machine);
  const { element, width, height } = useSize<HTMLDivElement>();
  if (!machine) return <div ref={element} className="h-full bg-sheet" />;
  const each = Math.max(90, height / 3 - 8);
  const longest = Math.max(...AXES.flatMap((axis) => curves(machine.axes[axis]).map((curve) => curve.seconds)));
  const fastest = Math.max(...AXES.flatMap((axis) => curves(machine.axes[axis]).map((curve) => curve.top_speed)));
  return (
    <div ref={element} className="h-full overflow-auto bg-sheet">
      {AXES.map((axis) => (
        <Curve key={axis} axis={axis} width={width} height={each} longest={longest} fastest={fastest} />
      ))}
    </div>
  );
}

function curves(axis: { now: Crossing; kept: Crossing | null } | undefined): Crossing[] {
  return axis ? [axis.now, ...(axis.kept ? [axis.kept] : [])] : [];
}

interface CurveProps {
  axis: "X" | "Y" | "Z";
  width: number;
  height: number;
  longest: number;
  fastest: number;
}

function Curve(props: CurveProps) {
  const { axis, width, height } = props;
  const answer = usePreview((answer) => answer?.machine?.axes[axis]);
  if (!answer || width < 100) return null;
  return (
    <div className="relative border-b border-rule-2" style={{ height }}>
      <Graph {...props} {...answer} />
      <Compared axis={axis} {...answer} />
    </div>
  );
}

interface Crossings {
  now: Crossing;
  kept: Crossing | null;
}

function Graph({ axis, width, height, longest, fastest, now, kept }: CurveProps & Crossings) {
  const unit = useUnit();
  const left = 70;
  const right = 240;
  const top = 16;
  const bottom = 26;
  const atT = (seconds: number) => left + (seconds / longest) * (width - left - right);
  const atV = (speed: number) => height - bottom - (speed / fastest) * (height - top - bottom);
  const path = (curve: Crossing) =>
    curve.curve.map((p, i) => `${i ? "L" : "M"}${atT(p.seconds)} ${atV(p.speed)}`).join("");
  return (
    <svg width={width} height={height} role="img" aria-label={`Speed of ${axis} across its travel`}>
      <text x={18} y={26} fontWeight="600" fontSize="18">
        {axis}
      </text>
      <path d={`M${left} ${top}V${height - bottom}H${width - right}`} fill="none" className="line-thin" />
      <text x={left - 6} y={atV(now.top_speed) + 5} textAnchor="end" className="caption">
        {shown(now.top_speed, "feed", unit)}
      </text>
      {kept && <path d={path(kept)} fill="none" className="line-hidden" />}
      <path d={path(now)} fill="none" className="line-now" />
      <path
        d={`M${atT(now.seconds_to_speed)} ${atV(now.top_speed)}V${height - bottom}`}
        className="line-level"
        fill="none"
      />
      <text x={atT(now.seconds)} y={height - 8} textAnchor="middle" className="caption">
        {now.seconds.toFixed(2)} s
      </text>
      <text x={atT(now.seconds_to_speed)} y={height - 8} textAnchor="middle" className="caption">
        {now.seconds_to_speed.toFixed(2)} s
      </text>
    </svg>
  );
}

function Compared({ axis, now, kept }: Crossings & { axis: "X" | "Y" | "Z" }) {
  const data = useSetup((setup) => setup?.machine.axes[axis]);
  const unit = useUnit();
  if (!data) return null;
  const feed = (value: number) => `${shown(value, "feed", unit)} ${unitOf("feed", unit)}`;
  const saved = kept ? kept.seconds - now.seconds : 0;
  return (
    <div className="absolute top-2 right-3 w-[216px] text-[14px] leading-[1.4]">
      <p>
        <b className="font-medium text-now">in force</b> {feed(data.rapid)}
        <br />
        {shown(data.acceleration, "acceleration", unit)} {unitOf("acceleration", unit)}, at speed after{" "}
        {shown(now.distance_to_speed, "length", unit)} {unitOf("length", unit)}
        {!now.full_speed && `; it only gets to ${feed(now.top_speed)}`}
      </p>
      {kept && data.kept ? (
        <p className="text-ink-2">
          <b className="font-medium">kept beside</b> {feed(data.kept.rapid)},{" "}
          {shown(data.kept.acceleration, "acceleration", unit)} {unitOf("acceleration", unit)}:{" "}
          {kept.seconds.toFixed(2)} s, {saved >= 0 ? `${saved.toFixed(2)} s slower` : `${(-saved).toFixed(2)} s faster`}
        </p>
      ) : (
        <p className="text-ink-3">nothing kept beside it</p>
      )}
      {may("technician") && <Swap axis={axis} data={data} />}
    </div>
  );
}

function Swap({ axis, data }: { axis: "X" | "Y" | "Z"; data: Axis }) {
  const { rapid, acceleration } = data;
  const base = `/machine/axes/${axis}`;
  return (
    <p className="flex flex-wrap gap-x-3">
      <button type="button" className="link" onClick={() => void edit(`${base}/kept`, { rapid, acceleration })}>
        Keep this one
      </button>
      {data.kept && (
        <button
          type="button"
          className="link"
          onClick={() => void edit(base, { ...data, ...data.kept, kept: { rapid, acceleration } })}
        >
          Swap
        </button>
      )}
    </p>
  );
}
