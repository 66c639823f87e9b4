/** The length of a tool: geometry and wear apart, whether the control uses it yet, how it scatters, what keeping it costs. */
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import type { Tool, ToolPageAnswer } from "../../api/client";
import { QuantityInput } from "../../fields/quantity-input";
import { described, useUnit } from "../../fields/rows";
import { usePages } from "../../live/pages";
import { fixed, shown, unitOf } from "../../quantity/format";
import { changeLength, wholeLength } from "../../readings/lengths";
import { may } from "../../session/session";
import { chooseMeasuring } from "../../work/choosing";
import { useSlug } from "../../work/document";
import { setFocus, useSelection } from "../../work/selection";

/** mm; what a control rounds its lengths to, and a little more */
const SAME = 0.001;

/** The lengths that were found to be in use, by machine and tool. */
const WARNED = new Set<string>();

export function LengthRows({ tool, index, page }: { tool: Tool; index: number; page: ToolPageAnswer | undefined }) {
  const unit = useUnit();
  const mm = (value: number) => `${shown(value, "length", unit)} ${unitOf("length", unit)}`;
  const [trouble, setTrouble] = useState("");
  const wear = tool.wear ?? 0;
  const fold = async () => setTrouble(described(await changeLength(index, { length: wholeLength(tool), wear: 0 })));
  return (
    <>
      <div className="group-title">Length</div>
      <LengthField index={index} field="length" label="Measured" value={tool.length} />
      <LengthField index={index} field="wear" label="Wear" value={wear} />
      <div className="row">
        <span>Both together</span>
        <output data-whole-length>{shown(wholeLength(tool), "length", unit, true)}</output>
        <span className="unit">{unitOf("length", unit)}</span>
      </div>
      {wear !== 0 && may("technician") && (
        <p className="px-4 py-1">
          <button type="button" className="button plain min-h-9!" onClick={() => void fold()}>
            Fold the wear into the length
          </button>
        </p>
      )}
      {trouble && <p className="says wrong">{trouble}</p>}
      {page?.worn && (
        <p className="says wrong" role="status" data-worn={tool.number}>
          Worn out: more than {mm(tool.greatest_wear ?? 0)}.
        </p>
      )}
      {page?.unused != null && <Unused tool={tool} index={index} by={page.unused} />}
      {page?.scatter && (
        <p className="px-4 py-1 text-[14px] text-ink-2" data-scatter>
          {page.scatter.n} readings scatter by {mm(page.scatter.std)}, {mm(page.scatter.range)} apart at the most.
        </p>
      )}
      {page?.keeping && <Keeping tool={tool} keeping={page.keeping} />}
    </>
  );
}

function LengthField(props: { index: number; field: "length" | "wear"; label: string; value: number }) {
  const { index, field, label, value } = props;
  const unit = useUnit();
  const pointer = `/tools/${index}/${field}`;
  const focused = useSelection((work) => work.focus === pointer);
  const [says, setSays] = useState<{ text: string; wrong: boolean } | null>(null);
  return (
    <>
      <div className={`row ${focused ? "focused" : ""}`}>
        <span>{label}</span>
        <QuantityInput
          label={`${label} length`}
          value={value}
          kind="length"
          unit={unit}
          pointer={pointer}
          readOnly={!may("technician")}
          onFocus={() => setFocus(pointer)}
          onCommit={(next) => changeLength(index, { [field]: next })}
          onSays={setSays}
        />
        <span className="unit">{unitOf("length", unit)}</span>
      </div>
      {says && <p className={`says ${says.wrong ? "wrong" : "understood"}`}>{says.text}</p>}
    </>
  );
}

/** The control goes by the length before until the tool is called again. */
function Unused({ tool, index, by }: { tool: Tool; index: number; by: number }) {
  const unit = useUnit();
  const slug = useSlug();
  const navigate = useNavigate();
  const active = usePages()?.active;
  const uses = active?.tool === tool.number && Math.abs(active.length - wholeLength(tool)) < SAME;
  const reported = `${slug} ${tool.number} ${wholeLength(tool)}`;
  useEffect(() => {
    if (!uses || !may("technician") || WARNED.has(reported)) return;
    WARNED.add(reported); // once: who takes it back wants to get past it
    void changeLength(index, { in_use: wholeLength(tool) });
  }, [uses, index, tool, reported]);
  const renew = async () => {
    await chooseMeasuring({ sequence: "renew", tools: [tool.number] }, null);
    navigate(`/machines/${slug}/setter`);
  };
  return (
    <div className="says wrong" role="status" data-unused={tool.number}>
      Changed by {shown(by, "length", unit)} {unitOf("length", unit)}: the control uses{" "}
      {shown(tool.in_use ?? 0, "length", unit, true)} until T{tool.number} is called again.
      <span className="mt-1 flex gap-2">
        <button type="button" className="link" onClick={() => void renew()}>
          The program for it
        </button>
        {may("technician") && (
          <button
            type="button"
            className="link"
            onClick={() => void changeLength(index, { in_use: wholeLength(tool) })}
          >
            It has run
          </button>
        )}
      </span>
    </div>
  );
}

function Keeping({ tool, keeping }: { tool: Tool; keeping: NonNullable<ToolPageAnswer["keeping"]> }) {
  const minutes = (seconds: number) => (seconds < 90 ? `${fixed(seconds, 0)} s` : `${fixed(seconds / 60, 1)} min`);
  const shift = tool.fetched_a_shift ?? 0;
  return (
    <p className="px-4 py-1 text-[14px] text-ink-2" data-keeping={keeping.slips ? "slips" : "kept"}>
      {keeping.slips
        ? `Its nut lets it slip: every pick-up is measured, ${fixed(keeping.each, 1)} s. At ${shift} a shift that is ${minutes(keeping.loose)}; with a stop collar it would be ${minutes(keeping.collar)} once.`
        : `Its stop collar keeps it: measured once, ${minutes(keeping.collar)}. Without it, at ${shift} pick-ups a shift, measuring would take ${minutes(keeping.loose)}.`}
    </p>
  );
}
