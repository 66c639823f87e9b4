/** What only the practice machine has: the speed of its time, power and air, tools put in by hand, a new build, the truth. */
import { useEffect, useState } from "react";
import { client, noConnection, refusal } from "../api/client";
import { Dialog } from "../common/dialog";
import { useUnit } from "../fields/rows";
import { kindOf, shown, unitOf } from "../quantity/format";
import { is } from "../session/session";
import { useSetup, useSlug } from "../work/document";
import { read } from "../work/pointer";
import { type Answer, AXES, useLive } from "./live";

export function PracticeDialog({ onClose }: { onClose: () => void }) {
  const refused = useLive((live) => live.refused);
  const { send } = useLive.getState();
  const able = is("technician");
  useEffect(() => {
    void send({ do: "hands" }).then((answer) => answer.hands && useLive.setState({ hands: answer.hands }));
  }, [send]);
  return (
    <Dialog open onClose={onClose} title="Practice machine" wide>
      <fieldset disabled={!able} className="grid grid-cols-[150px_1fr] items-center gap-x-4 gap-y-2 pt-3">
        <Speed />
        <Power />
        <InSpindle />
        <span className="text-ink-2">A dial, set to zero</span>
        <span className="flex gap-2">
          {AXES.map((axis) => (
            <button key={axis} type="button" className="button plain" onClick={() => void send({ do: "dial", axis })}>
              on {axis}
            </button>
          ))}
        </span>
        <span className="text-ink-2">Soft limits</span>
        <span>
          <button type="button" className="button plain" onClick={() => void send({ do: "key in" })}>
            Key the Setup's limits in
          </button>
        </span>
        <Build />
      </fieldset>
      {refused && (
        <p role="alert" className="pt-2 text-stop">
          {refused}
        </p>
      )}
      <Hidden able={able} />
    </Dialog>
  );
}

function Speed() {
  const hands = useLive((live) => live.hands);
  return (
    <>
      <span className="text-ink-2">Its time goes</span>
      <span className="flex gap-2">
        {["real time", "ten times", "at once"].map((speed) => (
          <button
            key={speed}
            type="button"
            className={`button plain ${hands?.speed === speed ? "border-now! bg-now-wash!" : ""}`}
            aria-pressed={hands?.speed === speed}
            onClick={() => void useLive.getState().handle({ do: "speed", speed })}
          >
            {speed}
          </button>
        ))}
      </span>
    </>
  );
}

function Power() {
  const powered = useLive((live) => live.reported?.powered);
  const turn = () => void useLive.getState().send({ do: "power", on: !powered });
  return (
    <>
      <span className="text-ink-2">Power</span>
      <span>
        <button type="button" className="button plain" onClick={turn}>
          {powered ? "Take the power away" : "Give the power back"}
        </button>
      </span>
    </>
  );
}

/** The tool that hands put into the spindle, and what the control takes it for. */
function InSpindle() {
  const tool = useLive((live) => live.reported?.tool);
  const hands = useLive((live) => live.hands);
  const tools = useSetup((setup) => setup?.tools) ?? [];
  const { handle } = useLive.getState();
  return (
    <>
      <label htmlFor="practice-tool" className="text-ink-2">
        Tool in the spindle
      </label>
      <select
        id="practice-tool"
        className="choice max-w-72 text-left!"
        value={tool ?? 0}
        onChange={(event) => void handle({ do: "tool", number: Number(event.currentTarget.value) })}
      >
        <option value={0}>none</option>
        {tools.map((entry) => (
          <option key={entry.number} value={entry.number}>
            T{entry.number} {entry.name}
          </option>
        ))}
      </select>
      <span className="text-ink-2">The control's record</span>
      <span className="flex items-center gap-3">
        <span data-record className={hands?.doubtful ? "font-semibold text-warn" : ""}>
          {hands?.record ? `T${hands.record}` : "empty"}
          {hands?.doubtful ? ", doubtful" : ""}
        </span>
        <button type="button" className="button plain" onClick={() => void handle({ do: "settle", number: tool ?? 0 })}>
          I have looked: {tool ? `T${tool} is in it` : "it is empty"}
        </button>
      </span>
    </>
  );
}

/** What the practice machine hides, once it is asked for. */
function Hidden({ able }: { able: boolean }) {
  const [truth, setTruth] = useState<Answer | null>(null);
  return (
    <div className="mt-4 border-t border-rule pt-3">
      {truth?.truth ? (
        <Truth rows={truth.truth} reversed={truth.reversed_input ?? ""} />
      ) : (
        <button
          type="button"
          className="button plain"
          disabled={!able}
          onClick={() => void useLive.getState().send({ do: "truth" }).then(setTruth)}
        >
          Show the truth it hides, beside what was measured
        </button>
      )}
    </div>
  );
}

function Build() {
  const [seed, setSeed] = useState("");
  const [says, setSays] = useState("");
  const slug = useSlug();
  const build = async () => {
    const chosen = seed.trim() === "" ? Math.floor(Math.random() * 1_000_000) : Number(seed);
    if (!slug || !Number.isInteger(chosen)) {
      setSays("The seed is a whole number, or empty for a random one.");
      return;
    }
    const { data, error } = await client
      .POST("/api/machines/{slug}/practice", { params: { path: { slug } }, body: { seed: chosen } })
      .catch(noConnection);
    setSays(data ? `Built with seed ${data.seed}; it is not homed.` : refusal(error));
  };
  return (
    <>
      <label htmlFor="practice-seed" className="text-ink-2">
        Rebuild it
      </label>
      <span className="flex items-center gap-2">
        <input
          id="practice-seed"
          className="field w-28!"
          placeholder="seed"
          value={seed}
          onChange={(event) => setSeed(event.currentTarget.value)}
          onKeyDown={(event) => event.stopPropagation()}
        />
        <button type="button" className="button plain" onClick={() => void build()}>
          From the Setup as it is now
        </button>
        <span className="text-[14px] text-ink-2">{says}</span>
      </span>
    </>
  );
}

function Truth({ rows, reversed }: { rows: NonNullable<Answer["truth"]>; reversed: string }) {
  const document = useSetup();
  const unit = useUnit();
  return (
    <>
      <table className="w-full text-[14.5px]">
        <thead>
          <tr className="text-right text-[13px] text-ink-3">
            <th className="text-left font-normal">the truth of this machine</th>
            <th className="font-normal">was built from</th>
            <th className="font-normal">truth</th>
            <th className="font-normal">Setup says</th>
            <th className="font-normal">off by</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const kind = kindOf(row.unit);
            const text = (value: number) => shown(value, kind, unit, false);
            const now = row.where ? read(document, row.where) : undefined;
            return (
              <tr key={row.name} className="border-t border-rule-2 text-right">
                <td className="text-left">{row.name}</td>
                <td className="text-ink-2">{text(row.nominal)}</td>
                <td>
                  <b className="font-medium">{text(row.true)}</b> {unitOf(kind, unit)}
                </td>
                <td>{typeof now === "number" ? text(now) : "not measured"}</td>
                <td className="text-ink-2">{typeof now === "number" ? text(now - row.true) : ""}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="pt-2">
        {reversed ? `Wired the other way round: ${reversed}.` : "No input is wired the other way round."}
      </p>
    </>
  );
}
