/** Qualifying a probe: its length on a reference face, its effective diameter and form round the clock, and by half a turn where
 * its tip stands off the axis. */
import { useEffect, useState } from "react";
import { client, type Probe, type Probing } from "../../api/client";
import { nameOf, useAnswer } from "../../api/query";
import { Drift } from "../../drawing/drift";
import { described, useUnit } from "../../fields/rows";
import { useLive } from "../../live/live";
import { usePages } from "../../live/pages";
import { shown, unitOf } from "../../quantity/format";
import { takeReading } from "../../readings/readings";
import { may } from "../../session/session";
import { means, type Place } from "../../touching/touches";
import { choose } from "../../touching/which-routine";
import { setupNow, useMachine, usePreview, useSetup, useSlug } from "../../work/document";
import { edit } from "../../work/editing";
import { Lobes } from "./lobes";
import { NO_HEIGHTS, NO_PLACES, useTaken } from "./taken";
import { useProbe } from "./which";

export function QualifyView() {
  const { probe, index } = useProbe();
  const answer = usePreview((answer) => answer?.probing);
  if (!probe || !answer) return null;
  const mine = answer.routines.filter((entry) => entry.qualifies === probe.name).reverse();
  if (!mine.length)
    return (
      <p className="bg-sheet p-6 text-ink-2">
        Choose in the schedule what {probe.name} is qualified on: a ring, plug or ball of known size, and a face of
        known height.
      </p>
    );
  return (
    <div className="h-full overflow-auto bg-sheet px-6 py-4">
      <h2 className="text-[17px] font-semibold">Qualify {probe.name}</h2>
      <Choice answer={answer} names={mine.map((entry) => entry.name)} />
      <Length key={`length ${probe.name}`} probe={probe} answer={answer} />
      <Diameter key={`diameter ${probe.name}`} probe={probe} index={index} answer={answer} />
    </div>
  );
}

/** Which of the programs that qualify it is written and played below. */
function Choice({ answer, names }: { answer: Probing; names: string[] }) {
  const [first] = names;
  const mine = names.includes(answer.routine);
  useEffect(() => {
    if (!mine && first) choose(first);
  }, [mine, first]);
  return (
    <fieldset className="segmented mt-1" aria-label="Program">
      {names.map((name) => (
        <button key={name} type="button" aria-pressed={answer.routine === name} onClick={() => choose(name)}>
          {name}
        </button>
      ))}
    </fieldset>
  );
}

/** The touches of the last program at the practice machine, where it was this one. */
function useTouched(routine: string, touches: number): Place[] {
  const pages = usePages();
  return pages?.lies === routine ? means(pages.touches ?? [], touches) : [];
}

async function keep(pointer: string, value: number, how: string): Promise<string> {
  const trouble = await takeReading({ quantity: pointer, source: "typed", value, how });
  return trouble || described(await edit(pointer, value));
}

function Length({ probe, answer }: { probe: Probe; answer: Probing }) {
  const unit = useUnit();
  const name = `length of ${probe.name}`;
  const of = `${useSlug()} ${probe.name}`;
  const heights = useTaken((kept) => kept.heights[of]) ?? NO_HEIGHTS;
  const touched = useTouched(name, probe.touches);
  const document = useSetup();
  const tools = document?.tools ?? [];
  const tool = tools.findIndex((entry) => entry.number === probe.tool);
  const { data, trouble } = useAnswer(
    heights.length > 1 ? ["probe-length", probe.name, heights, nameOf(document)] : null,
    () => client.POST("/api/probes/length", { body: { document: document ?? {}, probe: probe.name, heights } }),
    { keep: 3 },
  );
  const [said, setSaid] = useState("");
  if (!answer.routines.some((entry) => entry.name === name)) return null;
  const height = touched[0]?.[2];
  const add = () => height !== undefined && useTaken.getState().add(of, height);
  const mm = (value: number) => `${shown(value, "length", unit)} ${unitOf("length", unit)}`;
  const take = async () => {
    if (!data) return;
    const trouble =
      (await keep(`/tools/${tool}/length`, data.length, name)) ||
      described(await edit(`/probes/${placeOf(probe)}/length_uncertainty`, data.half_width_95)) ||
      described(await edit(`/probes/${placeOf(probe)}/repeatability`, 2 * data.scatter));
    setSaid(trouble || "Length and repeatability are set.");
  };
  return (
    <section aria-label="Length" className="mt-3">
      <h3 className="font-semibold">1 Length, on the reference face</h3>
      <p className="text-[14.5px] text-ink-2">
        Run it several times: this also gives the scatter of one touch. {heights.length} taken so far.
      </p>
      <p className="mt-1 flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="button"
          disabled={height === undefined || heights.includes(height) || !may("technician")}
          onClick={add}
        >
          Take the touch from the machine
        </button>
        {heights.length > 0 && (
          <button type="button" className="link" onClick={() => useTaken.getState().clear(of)}>
            Clear
          </button>
        )}
        {data && (
          <span data-length={data.length}>
            <b className="font-semibold">{mm(data.length)}</b> ± {mm(data.half_width_95)}, one touch scatters by{" "}
            {mm(data.scatter)}{" "}
            {may("technician") && (
              <button type="button" className="link" onClick={() => void take()}>
                set it
              </button>
            )}
          </span>
        )}
        {trouble && <span className="text-stop">{trouble}</span>}
        {said && <span role="status">{said}</span>}
      </p>
    </section>
  );
}

/** The place of a probe in the document as it is now. */
const placeOf = (probe: Probe) => setupNow()?.probes.findIndex((entry) => entry.name === probe.name) ?? 0;

/** The touches round the ring, before and after half a turn, and what they come to. */
function useDiameter(probe: Probe, index: number) {
  const name = `diameter of ${probe.name}`;
  const of = `${useSlug()} ${probe.name}`;
  const places = useTaken((kept) => kept.places[of]) ?? NO_PLACES;
  const turned = useTaken((kept) => kept.turned[of]) ?? NO_PLACES;
  const touched = useTouched(name, probe.touches);
  const document = useSetup();
  const body = { document: document ?? {}, probe: probe.name, places };
  const round = useAnswer(
    places.length ? ["probe-diameter", probe.name, places, nameOf(document)] : null,
    () => client.POST("/api/probes/diameter", { body }),
    { keep: 3 },
  );
  const half = useAnswer(
    places.length && turned.length ? ["probe-off", probe.name, places, turned, nameOf(document)] : null,
    () => client.POST("/api/probes/off-centre", { body: { ...body, turned } }),
    { keep: 4 },
  );
  const [said, setSaid] = useState("");
  const whole = touched.length === (probe.artefact?.touches ?? 0);
  const base = `/probes/${index}`;
  const set = async (values: [string, number | null][], how: string) => {
    setSaid("");
    for (const [field, value] of values) {
      const measured = field === "effective_diameter" || field === "off_x" || field === "off_y";
      const trouble =
        measured && value !== null
          ? await keep(`${base}/${field}`, value, how)
          : described(await edit(`${base}/${field}`, value));
      if (trouble) {
        setSaid(trouble);
        return;
      }
    }
    setSaid("It is set, and kept as a reading.");
  };
  const take = (afterTurn: boolean) => useTaken.getState().take(of, touched, afterTurn);
  return { name, places, round, half, whole, said, set, take };
}

type Diametered = ReturnType<typeof useDiameter>;

/** Lengths as they are shown, without and with their sign. */
function useLengths() {
  const unit = useUnit();
  const mm = (value: number) => shown(Math.abs(value), "length", unit);
  return { mm, signed: (value: number) => `${value < 0 ? "−" : ""}${mm(value)}`, unit: unitOf("length", unit) };
}

function Diameter({ probe, index, answer }: { probe: Probe; index: number; answer: Probing }) {
  const found = useDiameter(probe, index);
  if (!answer.routines.some((entry) => entry.name === found.name)) return null;
  return (
    <section aria-label="Diameter" className="mt-4">
      <RoundTheClock {...found} probe={probe} />
      <HalfTurn {...found} />
      {found.said && (
        <p role="status" className="mt-1">
          {found.said}
        </p>
      )}
      <Drift quantity={`/probes/${index}/effective_diameter`} title="Effective diameter" />
    </section>
  );
}

function RoundTheClock({ probe, name, round, whole, set, take }: Diametered & { probe: Probe }) {
  const { mm, unit } = useLengths();
  const { data } = round;
  return (
    <>
      <h3 className="font-semibold">2 Effective diameter, round the clock</h3>
      <p className="mt-1 flex flex-wrap items-center gap-3">
        <button type="button" className="button" disabled={!whole || !may("technician")} onClick={() => take(false)}>
          Take {probe.artefact?.touches} touches from the machine
        </button>
        {data && (
          <span data-effective={data.effective_diameter}>
            <b className="font-semibold">{mm(data.effective_diameter)}</b> ± {mm(data.half_width_95)} {unit}, form{" "}
            {mm(data.form_error)}{" "}
            {may("technician") && (
              <button
                type="button"
                className="link"
                onClick={() =>
                  void set(
                    [
                      ["effective_diameter", data.effective_diameter],
                      ["effective_uncertainty", data.half_width_95],
                      ["effective_x", null],
                      ["effective_y", null],
                      ["lobing", data.form_error],
                      ["qualified_feed", probe.measure_feed],
                    ],
                    name,
                  )
                }
              >
                set it
              </button>
            )}
          </span>
        )}
        {round.trouble && <span className="text-stop">{round.trouble}</span>}
      </p>
      {data && <Lobes found={data} />}
    </>
  );
}

function HalfTurn({ name, places, half, whole, set, take }: Diametered) {
  const { mm, signed, unit } = useLengths();
  const practice = useMachine((machine) => machine?.agent === "");
  return (
    <>
      <h3 className="mt-4 font-semibold">3 Off the axis, by half a turn</h3>
      <p className="mt-1 flex flex-wrap items-center gap-3">
        {practice && (
          <button
            type="button"
            className="button plain"
            onClick={() => void useLive.getState().send({ do: "half turn" })}
          >
            Turn the spindle by half a turn
          </button>
        )}
        <button
          type="button"
          className="button"
          disabled={!whole || !places.length || !may("technician")}
          onClick={() => take(true)}
        >
          Take the touches of the half turn
        </button>
        {half.data && (
          <span data-runout={half.data.runout}>
            X <b className="font-semibold">{signed(half.data.x)}</b> Y{" "}
            <b className="font-semibold">{signed(half.data.y)}</b> ± {mm(half.data.half_width_95)} {unit}{" "}
            {may("technician") && (
              <button
                type="button"
                className="link"
                onClick={() =>
                  half.data &&
                  void set(
                    [
                      ["off_x", half.data.x],
                      ["off_y", half.data.y],
                      ["angle_deg", half.data.angle_deg],
                    ],
                    `${name}, half a turn`,
                  )
                }
              >
                set it
              </button>
            )}
          </span>
        )}
        {half.trouble && <span className="text-stop">{half.trouble}</span>}
      </p>
    </>
  );
}
