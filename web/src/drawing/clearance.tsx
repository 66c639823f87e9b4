/** How close something passes, drawn at its moment: a line from one to the other with its length, in each view that shows it. */
import type { Passing } from "../api/client";
import { useUnit } from "../fields/rows";
import { isAt } from "../findings/closest";
import { shown, unitOf } from "../quantity/format";
import type { Place } from "../trace/evaluate";
import { usePlayback } from "../work/playback";
import type { View } from "./projection";

const LEAST = 0.005;
/** px: a label's height, and how far it stands beside its line */
const HIGH = 20;
const BESIDE = 10;

/** A view that shows it: where a place is drawn there. */
interface Shows {
  view: View;
  at: (place: Place) => [number, number];
}

interface ClearanceProps {
  passed: Passing[];
  /** shows what there is sideways */
  plan?: Shows;
  /** show what there is in height; the first with its figure */
  upright: Shows[];
}

export function ClearanceMark({ passed, plan, upright }: ClearanceProps) {
  const time = usePlayback((work) => work.time);
  const unit = useUnit();
  const shownNow = passed.find((entry) => isAt(entry, time));
  if (!shownNow) return null;
  const { sideways, height } = shownNow;
  const [one, other] = [shownNow.position as Place, shownNow.body_position as Place];
  const text = (gap: number) => `${shown(gap, "length", unit)} ${unitOf("length", unit)}`;
  const above: Place = [one[0], one[1], other[2]];
  return (
    <g pointerEvents="none" data-clearance={shownNow.gap}>
      {sideways > LEAST && plan && <Gap ends={[...plan.at(one), ...plan.at(other)]} {...plan} text={text(sideways)} />}
      {height > LEAST &&
        upright.map(({ view, at }, index) => (
          <Gap key={view.left} ends={[...at(one), ...at(above)]} view={view} text={index ? undefined : text(height)} />
        ))}
    </g>
  );
}

/** Where the names of the heights stand beside it there is no text. */
function Gap({ ends, view, text }: { ends: [number, number, number, number]; view: View; text?: string }) {
  const [x1, y1, x2, y2] = ends;
  const [x, y] = [(x1 + x2) / 2, (y1 + y2) / 2];
  if (x < view.left || x > view.left + view.width || y < view.top || y > view.top + view.height) return null;
  return (
    <g>
      <path d={`M${x1} ${y1}L${x2} ${y2}`} stroke="var(--now)" strokeWidth="2.4" fill="none" />
      <circle cx={x1} cy={y1} r="3" fill="var(--now)" />
      <circle cx={x2} cy={y2} r="3" fill="var(--now)" />
      {text && <Label x={x} y={y} view={view} text={text} />}
    </g>
  );
}

function Label({ x, y, view, text }: { x: number; y: number; view: View; text: string }) {
  const wide = text.length * 7.4 + 10;
  const left = x + BESIDE + wide > view.left + view.width ? x - BESIDE - wide : x + BESIDE;
  return (
    <>
      <rect x={left} y={y - HIGH / 2} width={wide} height={HIGH} fill="var(--sheet)" stroke="var(--now)" />
      <text x={left + wide / 2} y={y + 5} textAnchor="middle" className="dimension-text">
        {text}
      </text>
    </>
  );
}
