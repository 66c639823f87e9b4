/** The coupling's tuning: what the nut did at each feed that was tried, until it lies within what the pocket allows. */
import { useState } from "react";
import { type Changer, client, type Thread } from "../../api/client";
import { useAnswer } from "../../api/query";
import { QuantityInput } from "../../fields/quantity-input";
import { useUnit } from "../../fields/rows";
import { fixed, shown, unitOf } from "../../quantity/format";
import { may } from "../../session/session";
import { usePreview, useSetup } from "../../work/document";
import { edit } from "../../work/editing";

type Coupling = Extract<Changer, { coupling: unknown }>["coupling"];

const WIDTH = 262;
const HEIGHT = 112;

export function Tuning({ coupling }: { coupling: Coupling }) {
  const unit = useUnit();
  const [says, setSays] = useState("");
  const corrected = usePreview((answer) => answer?.derived?.workings.corrected_feed?.value ?? null);
  const base = "/changer/coupling";
  const tries = coupling.tuning ?? [];
  const last = tries.at(-1);
  const within = last && Math.abs(last.lift) <= coupling.lift_allowed && last.feed === coupling.feed;
  return (
    <section aria-label="Tuning of the coupling" className="px-4 pt-2 pb-1">
      <h4 className="font-semibold">Tuning</h4>
      <p className="text-[13.5px] text-ink-2">
        Run one exchange, look at the nut, and note how far it was drawn up (or, negative, pushed down).
      </p>
      {tries.length > 0 && <Tries coupling={coupling} />}
      {within && <p className="text-[14px] text-proven">Within the allowance at this feed.</p>}
      {may("technician") && <Note coupling={coupling} onTrouble={setSays} />}
      {coupling.observed_lift !== null && coupling.observed_lift !== undefined && corrected !== null && !within && (
        <button
          type="button"
          className="button first mt-2"
          disabled={!may("technician")}
          onClick={() =>
            void edit(
              base,
              (before: Coupling): Coupling => ({
                ...before,
                feed: Math.round(corrected * 1000) / 1000,
                observed_lift: null,
              }),
            )
          }
        >
          Use the corrected feed, {shown(corrected, "feed", unit)} {unitOf("feed", unit)}
        </button>
      )}
      {tries.length > 0 && may("technician") && (
        <button
          type="button"
          className="link ml-3"
          onClick={() =>
            void edit(base, (before: Coupling): Coupling => ({ ...before, observed_lift: null, tuning: [] }))
          }
        >
          Start over
        </button>
      )}
      {says && <p className="says wrong">{says}</p>}
    </section>
  );
}

/** What the nut did at the present feed. */
function Note({ coupling, onTrouble }: { coupling: Coupling; onTrouble: (text: string) => void }) {
  const unit = useUnit();
  const [lift, setLift] = useState(0);
  const note = async () => {
    const { feed, speed } = coupling;
    const next = (before: Coupling): Coupling => ({
      ...before,
      observed_lift: lift,
      tuning: [...(before.tuning ?? []), { feed, speed, lift }],
    });
    const faults = await edit("/changer/coupling", next);
    onTrouble(faults.map((fault) => fault.what).join(" "));
  };
  return (
    <div className="mt-1 grid grid-cols-[92px_auto_auto] items-center gap-2">
      <QuantityInput
        id="nut-did"
        label="What the nut did"
        value={lift}
        kind="length"
        unit={unit}
        onCommit={async (value) => {
          setLift(value);
          return [];
        }}
        onSays={(reported) => onTrouble(reported?.wrong ? reported.text : "")}
      />
      <span className="text-[14px] text-ink-2">
        {unitOf("length", unit)} at {shown(coupling.feed, "feed", unit)}
      </span>
      <button type="button" className="button plain min-h-9! px-2!" onClick={() => void note()}>
        Note it
      </button>
    </div>
  );
}

/** Each try as a point, in their order, over the band that the pocket allows. */
function Tries({ coupling }: { coupling: Coupling }) {
  const unit = useUnit();
  const tries = coupling.tuning ?? [];
  const most = Math.max(coupling.lift_allowed * 1.6, ...tries.map((entry) => Math.abs(entry.lift) * 1.15));
  const x = (index: number) => 46 + ((WIDTH - 62) * (index + 0.5)) / tries.length;
  const y = (lift: number) => HEIGHT / 2 - 8 - (lift / most) * (HEIGHT / 2 - 14);
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`What the nut did in ${tries.length} tries`}>
      <rect
        x="46"
        y={y(coupling.lift_allowed)}
        width={WIDTH - 56}
        height={y(-coupling.lift_allowed) - y(coupling.lift_allowed)}
        fill="var(--dim-wash)"
      />
      <path d={`M46 ${y(0)}H${WIDTH - 10}`} className="line-thin" />
      {[coupling.lift_allowed, -coupling.lift_allowed].map((level) => (
        <text key={level} x="42" y={y(level) + 4} textAnchor="end" className="caption">
          {shown(level, "length", unit, true)}
        </text>
      ))}
      <polyline
        points={tries.map((entry, index) => `${x(index)},${y(entry.lift)}`).join(" ")}
        fill="none"
        stroke="var(--ink-3)"
      />
      {tries.map((entry, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: tries are known by their order
        <g key={index} data-try={index + 1}>
          <title>{`Try ${index + 1}: ${fixed(entry.lift, 2)} mm at ${fixed(entry.feed, 0)} mm/min`}</title>
          <circle
            cx={x(index)}
            cy={y(entry.lift)}
            r="4"
            fill={Math.abs(entry.lift) <= coupling.lift_allowed ? "var(--ink)" : "var(--stop)"}
          />
          <text x={x(index)} y={HEIGHT - 4} textAnchor="middle" className="caption">
            {shown(entry.feed, "feed", unit)}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** A thread from the library in place of the one there is, and this one into the library. */
export function ThreadLibrary({ coupling }: { coupling: Coupling }) {
  const own = useSetup((setup) => setup?.threads);
  const [refused, setTrouble] = useState("");
  const { data: standard, trouble: lost } = useAnswer(["threads"], () => client.GET("/api/threads"), { fixed: true });
  const trouble = refused || lost;
  const all = [...(standard ?? []), ...(own ?? [])];
  const same = (thread: Thread) => SIZES.every((key) => thread[key] === coupling[key]);
  const now = all.find(same);
  const take = async (name: string) => {
    const chosen = all.find((thread) => thread.name === name);
    if (!chosen) return;
    const { name: _, ...sizes } = chosen;
    const faults = await edit("/changer/coupling", (before: Coupling): Coupling => ({ ...before, ...sizes }));
    setTrouble(faults.map((fault) => fault.what).join(" "));
  };
  const keep = () => {
    const name = `lead ${coupling.lead}, nut ${coupling.nut_diameter}`;
    const sizes = Object.fromEntries(SIZES.map((key) => [key, coupling[key]])) as Omit<Thread, "name">;
    void edit("/threads", (before: Thread[] | undefined) => [...(before ?? []), { name, ...sizes }]);
  };
  return (
    <>
      <div className="row" style={{ gridTemplateColumns: "1fr 162px" }}>
        <label htmlFor="thread">Thread</label>
        <select
          id="thread"
          className="choice"
          value={now?.name ?? ""}
          disabled={!may("technician")}
          onChange={(event) => void take(event.currentTarget.value)}
        >
          <option value="">as entered</option>
          {all.map((thread) => (
            <option key={thread.name} value={thread.name}>
              {thread.name}
            </option>
          ))}
        </select>
      </div>
      {!now && may("technician") && (standard ?? []).length > 0 && (
        <button type="button" className="link mx-4" onClick={keep}>
          Keep this thread in the library
        </button>
      )}
      {trouble && <p className="says wrong">{trouble}</p>}
    </>
  );
}

const SIZES = ["lead", "engaged_length", "nut_diameter", "hole_diameter", "speed_cap"] as const;
