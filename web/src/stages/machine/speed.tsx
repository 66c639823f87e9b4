/** Speed over time across each axis, the setting in force against the one kept beside it. */
import type { Crossing } from "../../api/client";
import { useSize } from "../../drawing/use-size";
import { shown, unitOf } from "../../quantity/format";
import { useUnit } from "../../quantity/rows";
import { may } from "../../shell/session";
import { useWork } from "../../work/store";

const AXES = ["X", "Y", "Z"] as const;

export function SpeedCurves() {
  const machine = useWork((work) => work.answer?.machine);
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

function Curve(props: { axis: "X" | "Y" | "Z"; width: number; height: number; longest: number; fastest: number }) {
  const { axis, width, height, longest, fastest } = props;
  const answer = useWork((work) => work.answer?.machine?.axes[axis]);
  const data = useWork((work) => work.document?.machine.axes[axis]);
  const unit = useUnit();
  const { edit } = useWork.getState();
  if (!answer || !data || width < 100) return null;
  const left = 70;
  const right = 240;
  const top = 16;
  const bottom = 26;
  const atT = (seconds: number) => left + (seconds / longest) * (width - left - right);
  const atV = (speed: number) => height - bottom - (speed / fastest) * (height - top - bottom);
  const path = (curve: Crossing) =>
    curve.curve.map((p, i) => `${i ? "L" : "M"}${atT(p.seconds)} ${atV(p.speed)}`).join("");
  const { now, kept } = answer;
  const feed = (value: number) => `${shown(value, "feed", unit)} ${unitOf("feed", unit)}`;
  const saved = kept ? kept.seconds - now.seconds : 0;
  return (
    <div className="relative border-b border-rule-2" style={{ height }}>
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
            {kept.seconds.toFixed(2)} s,{" "}
            {saved >= 0 ? `${saved.toFixed(2)} s slower` : `${(-saved).toFixed(2)} s faster`}
          </p>
        ) : (
          <p className="text-ink-3">nothing kept beside it</p>
        )}
        {may("technician") && (
          <p className="flex flex-wrap gap-x-3">
            <button
              type="button"
              className="link"
              onClick={() =>
                void edit(`/machine/axes/${axis}/kept`, { rapid: data.rapid, acceleration: data.acceleration })
              }
            >
              Keep this one
            </button>
            {data.kept && (
              <button
                type="button"
                className="link"
                onClick={() => {
                  const { rapid, acceleration } = data;
                  void edit(`/machine/axes/${axis}`, { ...data, ...data.kept, kept: { rapid, acceleration } });
                }}
              >
                Change them over
              </button>
            )}
          </p>
        )}
      </div>
    </div>
  );
}
