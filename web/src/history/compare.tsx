/** Two revisions side by side: their values by stage, and both plans drawn over each other. */
import type { OldRevision, Scene } from "../api/client";
import { PlanBodies } from "../drawing/bodies";
import { useUnit } from "../fields/rows";
import { place, said } from "../work/naming";
import { parts } from "../work/pointer";

/** The stage that a section of the Setup belongs to. */
const STAGE: Record<string, string> = {
  inputs: "Signals",
  outputs: "Signals",
  changer: "Changer",
  threads: "Changer",
  setters: "Setter",
  tools: "Tools",
  probes: "Probes",
  routines: "Routines",
};

const ORDER = ["Machine", "Signals", "Changer", "Setter", "Tools", "Probes", "Routines"];

const stageOf = (pointer: string) => STAGE[parts(pointer)[0] ?? ""] ?? "Machine";

export function Compare({ old }: { old: OldRevision }) {
  const unit = useUnit();
  const stages = ORDER.filter((stage) => old.changes.some((change) => stageOf(change.where) === stage));
  return (
    <section aria-label={`Revision ${old.number} beside ${old.against}`} className="working mx-0!">
      {!old.changes.length && <p>Nothing differs.</p>}
      <BothPlans old={old} />
      {old.changes.length > 0 && (
        <table className="w-full text-[14px]">
          <thead>
            <tr className="text-left text-ink-3">
              <th className="font-normal" />
              <th className="font-normal">revision {old.number}</th>
              <th className="font-normal">revision {old.against}</th>
            </tr>
          </thead>
          {stages.map((stage) => (
            <tbody key={stage}>
              <tr>
                <th colSpan={3} className="pt-1.5 text-left font-semibold text-ink">
                  {stage}
                </th>
              </tr>
              {old.changes
                .filter((change) => stageOf(change.where) === stage)
                .map((change) => (
                  <tr key={change.where} className="border-t border-rule-2">
                    <td className="pr-3">{place(change.where)}</td>
                    <td className="pr-3">{said(change.before, change.unit, unit)}</td>
                    <td className="font-medium text-ink">{said(change.after, change.unit, unit)}</td>
                  </tr>
                ))}
            </tbody>
          ))}
        </table>
      )}
    </section>
  );
}

const WIDE = 660;
const HIGH = 190;

/** The later one in ink, the earlier one in the accent's colour over it: where both are the same, one is seen. */
function BothPlans({ old }: { old: OldRevision }) {
  const places = [old.scene, old.against_scene].flatMap(placesOf);
  const xs = places.map(([x]) => x);
  const ys = places.map(([, y]) => y);
  if (!places.length) return null;
  const [left, right, low, top] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min((WIDE - 40) / Math.max(1, right - left), (HIGH - 20) / Math.max(1, top - low));
  const high = (top - low) * scale + 20;
  const moved = movedPockets(old);
  const longest = Math.max(0, ...moved.map(({ dx, dy }) => Math.hypot(dx, dy)));
  const times = longest > 0 ? magnified(LONGEST / (longest * scale)) : 0;
  const shown = Math.max(1, times);
  const to = { scale, atX: (mm: number) => 20 + (mm - left) * scale, atY: (mm: number) => 10 + (top - mm) * scale };
  return (
    <figure className="mb-2">
      <svg
        viewBox={`0 0 ${WIDE} ${high}`}
        role="img"
        aria-label={`Plan of revision ${old.number} over revision ${old.against}`}
        className="w-full bg-sheet"
      >
        <PlanBodies scene={old.against_scene} to={to} />
        <Pockets scene={old.against_scene} to={to} colour="var(--ink)" />
        <Pockets scene={old.scene} to={to} colour="var(--now)" />
        {moved.map(({ pocket, x, y, dx, dy }) => (
          <path
            key={pocket}
            d={`M${to.atX(x)} ${to.atY(y)}l${dx * shown * scale} ${-dy * shown * scale}`}
            stroke="var(--now)"
            strokeWidth="2.5"
            data-moved={pocket}
          />
        ))}
      </svg>
      <figcaption className="text-[13.5px] text-ink-3">
        Pockets of revision {old.against} in ink, of revision {old.number} in colour over them.
        {times > 0 && ` The strokes show which way each was, ${times} times as long as it is.`}
      </figcaption>
    </figure>
  );
}

/** px: the longest stroke that shows how far a pocket was moved */
const LONGEST = 34;

/** A round number of times, below one that is not. */
export function magnified(times: number): number {
  if (times <= 1) return 0;
  const power = 10 ** Math.floor(Math.log10(times));
  return [5, 2, 1].map((part) => part * power).find((round) => round <= times) ?? 0;
}

/** The pockets that both have, at different places: where the later one has it, and how far from there the earlier one had it, mm. */
function movedPockets(old: OldRevision) {
  const before = new Map(old.scene.magazine?.pockets.map((entry) => [entry.pocket, entry]));
  const now = old.against_scene.magazine?.pockets ?? [];
  return now.flatMap(({ pocket, x, y }) => {
    const was = before.get(pocket);
    const [dx, dy] = was ? [was.x - x, was.y - y] : [0, 0];
    return Math.hypot(dx, dy) > 1e-6 ? [{ pocket, x, y, dx, dy }] : [];
  });
}

/** What the plan must hold: pockets and bodies, with what they reach. */
function placesOf(scene: Scene): [number, number][] {
  const pockets = scene.magazine?.pockets.map(({ x, y }): [number, number] => [x, y]) ?? [];
  const reach = scene.magazine?.radius ?? 0;
  return pockets.flatMap(([x, y]): [number, number][] => [
    [x - reach, y - reach],
    [x + reach, y + reach],
  ]);
}

interface PocketsProps {
  scene: Scene;
  to: { scale: number; atX: (mm: number) => number; atY: (mm: number) => number };
  colour: string;
}

function Pockets({ scene, to, colour }: PocketsProps) {
  const radius = Math.max(2, (scene.magazine?.radius ?? 0) * to.scale);
  return scene.magazine?.pockets.map(({ pocket, x, y }) => (
    <g key={pocket} fill="none" stroke={colour} strokeWidth="1.4">
      <circle cx={to.atX(x)} cy={to.atY(y)} r={radius} />
      <path d={`M${to.atX(x)} ${to.atY(y)}m${-radius} 0h${2 * radius}m${-radius} ${-radius}v${2 * radius}`} />
    </g>
  ));
}
