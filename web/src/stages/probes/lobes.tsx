/** How far out each touch round the clock was, from the mean of all, magnified. */
import type { QualifiedDiameter } from "../../api/client";
import { useUnit } from "../../fields/rows";
import { shown, unitOf } from "../../quantity/format";

const SIZE = 300;
const R = 92;
const MOST = 34;
/** pixels: the mean circle, and the greatest deviation */

export function Lobes({ found }: { found: QualifiedDiameter }) {
  const unit = useUnit();
  const most = Math.max(1e-9, ...found.lobes.map(([, off]) => Math.abs(off as number)));
  const magnified = MOST / most;
  const points = found.lobes.map(([angle, off]) => {
    const turn = ((angle as number) * Math.PI) / 180;
    const r = R + (off as number) * magnified;
    return { x: SIZE / 2 + r * Math.cos(turn), y: SIZE / 2 - r * Math.sin(turn), angle: angle as number };
  });
  return (
    <figure data-lobes={found.lobes.length}>
      <svg width={SIZE} height={SIZE} role="img" aria-label="Form of the tip round the clock, magnified">
        <title>How far out each touch was, magnified</title>
        <circle cx={SIZE / 2} cy={SIZE / 2} r={R} fill="none" className="line-hidden" />
        <path d={`M20 ${SIZE / 2}H${SIZE - 20}M${SIZE / 2} 20V${SIZE - 20}`} className="line-centre" />
        <polygon points={points.map(({ x, y }) => `${x},${y}`).join(" ")} fill="none" className="line-now" />
        {points.map(({ x, y, angle }) => (
          <circle key={angle} cx={x} cy={y} r="3.5" fill="var(--now)" />
        ))}
        <text x={SIZE - 16} y={SIZE / 2 - 6} textAnchor="end" className="caption">
          X
        </text>
        <text x={SIZE / 2 + 6} y="26" className="caption">
          Y
        </text>
      </svg>
      <figcaption className="text-[13.5px] text-ink-3">
        The dashed circle is the mean; the touch furthest off it is {shown(most, "length", unit)}{" "}
        {unitOf("length", unit)} off.
      </figcaption>
    </figure>
  );
}
