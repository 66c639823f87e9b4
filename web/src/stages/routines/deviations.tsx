/** Where each touch was, from where it was expected, magnified on the plan. */
import type { Probing, Summed } from "../../api/client";
import { useUnit } from "../../fields/rows";
import { shown, unitOf } from "../../quantity/format";
import { bounds, roomOf } from "./room";

const WIDTH = 560;
const HEIGHT = 330;
const LONGEST = 46;
/** pixels of the greatest deviation */

export function Deviations({ answer, found }: { answer: Probing; found: Summed }) {
  const unit = useUnit();
  const first = answer.aims[0];
  if (!first) return null;
  const place = first.meets;
  const flat = bounds(answer.aims, place, place.z, answer.tip_radius);
  const to = roomOf({ ...flat, z: [0, 1] }, { width: WIDTH, height: HEIGHT });
  const most = Math.max(1e-6, ...found.touches.map((touch) => Math.abs(touch.off)));
  const each = LONGEST / most;
  return (
    <figure className="mt-3">
      <svg width={WIDTH} height={to.planBottom + 24} role="img" aria-label="Deviations of the touches, magnified">
        <title>How far each touch was off where it was expected</title>
        {answer.aims.map((aim, index) => {
          const touch = found.touches[index];
          if (!touch) return null;
          const [x, y] = [to.atX(aim.meets.x), to.atY(aim.meets.y)];
          const down = aim.way.z < -0.5;
          const [dx, dy]: [number, number] = down
            ? [0, touch.off * each]
            : [aim.way.x * touch.off * each, -aim.way.y * touch.off * each];
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a touch is known by its number
            <g key={index}>
              <circle cx={x} cy={y} r="4" className="line-outline" fill="var(--sheet)" />
              <path d={`M${x} ${y}l${dx} ${dy}`} className="line-now" />
              <circle cx={x + dx} cy={y + dy} r="2.5" fill="var(--now)" />
              <text
                x={aim.way.x > 0.5 ? x - 10 - Math.max(0, -dx) : x + 10}
                y={down ? y - 14 : aim.way.x > 0.5 ? y + 5 : y - 6}
                textAnchor={aim.way.x > 0.5 ? "end" : "start"}
                className="caption"
              >
                {index + 1}: {touch.off < 0 ? "−" : "+"}
                {shown(Math.abs(touch.off), "length", unit)}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="text-[13.5px] text-ink-3">
        From where each touch was expected, along its way; the longest line is {shown(most, "length", unit)}{" "}
        {unitOf("length", unit)}.
      </figcaption>
    </figure>
  );
}
