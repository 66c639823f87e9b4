/** Machine and part position side by side with the stored place of the quantity in focus, and the distance to go. */

import { useState } from "react";
import { client } from "../api/client";
import { nameOf, useAnswer } from "../api/query";
import { useUnit } from "../fields/rows";
import { shown, unitOf, workOffset } from "../quantity/format";
import { may } from "../session/session";
import { useMachine, useSetup } from "../work/document";
import { useSelection } from "../work/selection";
import { AXES, type Axis, useLive } from "./live";

/** Where the quantity in focus is stored, by axis; {} where it has no place. */
export function useTargets(): Record<string, number> {
  const document = useSetup();
  const focus = useSelection((work) => work.focus);
  const { data } = useAnswer(document && focus ? ["targets", nameOf(document), focus] : null, () =>
    client.POST("/api/offers", {
      body: { document: document ?? {}, quantity: focus ?? "", position: null, tool: null },
    }),
  );
  return data?.targets ?? {};
}

export function Positions() {
  const reported = useLive((live) => live.reported);
  const delay = reported?.when ? Math.round(Date.now() - reported.when * 1000) : undefined;
  const unit = useUnit();
  const targets = useTargets();
  const aimed = Object.keys(targets).length > 0;
  const dials = reported?.dials ?? {};
  const hasDial = Object.keys(dials).length > 0;
  const figure = (value: number | undefined) => (value === undefined ? "–" : shown(value, "length", unit));
  return (
    <div
      className="flex min-h-0 flex-col px-2.5 py-1.5"
      data-positions
      data-delay={delay}
      data-when={reported?.when ?? undefined}
    >
      <table className="w-full">
        <thead>
          <tr className="text-right text-[13px] text-ink-3">
            <th className="w-6" />
            <th className="font-normal">machine {unitOf("length", unit)}</th>
            <th className={`font-normal ${aimed ? "max-[1100px]:hidden" : ""}`}>part</th>
            {aimed && <th className="font-normal text-dim">stored</th>}
            {aimed && <th className="font-normal text-dim">to go</th>}
            {hasDial && <th className="font-normal">dial</th>}
          </tr>
        </thead>
        <tbody>
          {AXES.map((axis) => (
            <Row
              key={axis}
              axis={axis}
              figure={figure}
              targets={targets}
              aimed={aimed}
              dial={hasDial ? dials[axis] : null}
            />
          ))}
        </tbody>
      </table>
      <p className="mt-auto flex flex-wrap gap-x-4 text-[14px] text-ink-2">
        <span data-homed={String(reported?.homed)} className={reported?.homed ? "" : "font-semibold text-warn"}>
          {reported?.homed ? "homed" : "not homed"}
        </span>
        <span>{reported?.tool ? `T${reported.tool} in the spindle` : "spindle empty"}</span>
        <span>{reported?.offset ? `${workOffset(reported.offset)} active` : "no work offset"}</span>
        <span>{reported?.spindle ? `${shown(reported.spindle, "speed", unit)} rev/min` : "spindle still"}</span>
      </p>
      {aimed && <GoThere targets={targets} />}
      <Sight />
    </div>
  );
}

function Row(props: {
  axis: Axis;
  figure: (value: number | undefined) => string;
  targets: Record<string, number>;
  aimed: boolean;
  dial: number | null | undefined;
}) {
  const { axis, figure, targets, aimed } = props;
  const position = useLive((live) => live.reported?.position[axis]);
  const part = useLive((live) => live.reported?.part[axis]);
  const homed = useLive((live) => live.reported?.homed);
  const target = targets[axis];
  const go = target !== undefined && position !== undefined ? target - position : undefined;
  return (
    <tr className="text-right leading-[34px]">
      <th className="text-left text-[17px] font-semibold">{axis}</th>
      <td
        className={`text-[23px] font-medium max-[1100px]:text-[20px] ${homed === false ? "text-ink-3" : ""}`}
        data-axis={axis}
      >
        {figure(position)}
      </td>
      <td className={`text-[17px] text-ink-2 ${aimed ? "max-[1100px]:hidden" : ""}`}>{figure(part)}</td>
      {aimed && <td className="text-[17px] text-dim">{target === undefined ? "" : figure(target)}</td>}
      {aimed && (
        <td className="text-[17px] text-dim" data-to-go={axis}>
          {go === undefined ? "" : figure(go)}
        </td>
      )}
      {props.dial !== null && <td className="text-[17px]">{props.dial === undefined ? "" : figure(props.dial)}</td>}
    </tr>
  );
}

const STEPS: Record<string, string> = {
  up: "Z goes up. Once more: across.",
  across: "It goes across at the top. Then jog down, or once more where a height is stored.",
  down: "Down to 20 mm above it. Jog the rest.",
};

/** To the stored place, a step at each press: up, across at the top, down to 20 mm above it. */
function GoThere({ targets }: { targets: Record<string, number> }) {
  const practice = useMachine((machine) => machine?.agent === "");
  const [says, setSays] = useState("");
  const feed = useLive((live) => live.feed);
  if (!practice || !may("technician")) return null;
  const go = async () => {
    const { refused, step } = await useLive.getState().send({ do: "go", to: targets, feed });
    setSays(refused ?? STEPS[step ?? ""] ?? "");
  };
  return (
    <p className="flex flex-wrap items-center gap-3 text-[14px]">
      <button type="button" className="link" onClick={() => void go()}>
        Go there, step by step
      </button>
      {says && <span role="status">{says}</span>}
    </p>
  );
}

/** What one sees at the nose of the practice machine, where one would bend down and look. */
function Sight() {
  const sight = useLive((live) => live.sight);
  const practice = useMachine((machine) => machine?.agent === "");
  const unit = useUnit();
  if (!practice) return null;
  const signed = (value: number) => (value > 0 ? "+" : "") + shown(value, "length", unit);
  return (
    <p className="flex items-center gap-3 text-[14px]">
      <button
        type="button"
        className="link"
        onClick={() =>
          void useLive
            .getState()
            .send({ do: "look" })
            .then((answer) => useLive.getState().set({ sight: answer.sight ?? null }))
        }
      >
        Look at the nose
      </button>
      {sight && (
        <span data-sight>
          pocket {sight.pocket}: its axis is X {signed(sight.dx)}, Y {signed(sight.dy)} from here
        </span>
      )}
      {sight === null && <span className="text-ink-2">no pocket within sight</span>}
    </p>
  );
}
