/** The schedule of the Probes stage: the probes, and the quantities of the one that is looked at. */
import { useState } from "react";
import type { Probe } from "../../api/client";
import { EntryList } from "../../common/entry-list";
import { LimitRow } from "../../fields/limit-row";
import { ChoiceRow, DerivationRow, described, QuantityRow, TextRow, YesNoRow } from "../../fields/rows";
import { may } from "../../session/session";
import { AddDevice } from "../../touching/add-device";
import { InputRow } from "../../touching/input-row";
import { useMachine, useSetup } from "../../work/document";
import { edit } from "../../work/editing";
import { Artefact } from "./artefact";
import { KINDS } from "./kinds";
import { chooseProbe, useProbe } from "./which";

export function ProbeSchedule() {
  const { index, probe } = useProbe();
  const [trouble, setTrouble] = useState("");
  return (
    <div className="pb-6">
      <List chosen={index} onTrouble={setTrouble} />
      {trouble && (
        <p role="alert" className="says wrong">
          {trouble}
        </p>
      )}
      {probe && <Quantities key={probe.name} index={index} probe={probe} />}
    </div>
  );
}

function List({ chosen, onTrouble }: { chosen: number; onTrouble: (text: string) => void }) {
  const probes = useSetup((setup) => setup?.probes) ?? [];
  const remove = async (name: string) =>
    onTrouble(described(await edit("/probes", (before: Probe[]) => before.filter((entry) => entry.name !== name))));
  return (
    <>
      <EntryList
        title="Probes"
        entries={probes.map((probe) => ({ name: probe.name, note: `T${probe.tool}` }))}
        chosen={probes[chosen]?.name}
        onChoose={chooseProbe}
        onRemove={(name) => void remove(name)}
      />
      {may("technician") && <AddDevice what="probe" kinds={KINDS} onAdded={chooseProbe} />}
    </>
  );
}

const ROWS = [
  ["search_feed", "feed"],
  ["measure_feed", "feed"],
  ["guarded_feed", "feed"],
  ["back_off", "length"],
  ["overtravel_across", "length"],
  ["overtravel_up", "length"],
  ["trigger_travel", "length"],
  ["latency", "time"],
  ["polling", "time"],
  ["touches", "count"],
  ["spread", "length"],
  ["repeatability", "length"],
] as const;

function Quantities({ index, probe }: { index: number; probe: Probe }) {
  const base = `/probes/${index}`;
  const tools = useSetup((setup) => setup?.tools) ?? [];
  const tool = tools.findIndex((entry) => entry.number === probe.tool);
  const view = KINDS.find((entry) => entry.kind === probe.kind);
  return (
    <>
      <div className="group-title">What it is</div>
      <TextRow label="Name" pointer={`${base}/name`} />
      <ChoiceRow
        label="In the spindle as"
        pointer={`${base}/tool`}
        numbers
        choices={tools.map((entry) => [String(entry.number), `T${entry.number} ${entry.name}`])}
      />
      <InputRow base={base} />
      {tool >= 0 && (
        <>
          <QuantityRow label="Tip, nominal" pointer={`/tools/${tool}/diameter`} kind="length" />
          <QuantityRow pointer={`/tools/${tool}/length`} kind="length" />
        </>
      )}
      {view?.fields.map(({ field, ...rest }) => (
        <QuantityRow key={field} pointer={`${base}/${field}`} {...rest} />
      ))}
      {view?.switches.map(([label, field]) => (
        <YesNoRow key={field} label={label} pointer={`${base}/${field}`} />
      ))}
      {view?.qualified && <Qualified base={base} probe={probe} />}
      <div className="group-title">The touch</div>
      {ROWS.map(([field, kind]) => (
        <QuantityRow key={field} pointer={`${base}/${field}`} kind={kind} />
      ))}
      <Worked />
    </>
  );
}

function Qualified({ base, probe }: { base: string; probe: Probe }) {
  return (
    <>
      <div className="group-title">As it was qualified</div>
      <LimitRow
        label="Effective diameter"
        pointer={`${base}/effective_diameter`}
        kind="length"
        usual={6}
        none="not yet"
      />
      <LimitRow
        label="Along X, where it differs"
        pointer={`${base}/effective_x`}
        kind="length"
        usual={probe.effective_diameter ?? 6}
        none="the same"
      />
      <LimitRow
        label="Along Y, where it differs"
        pointer={`${base}/effective_y`}
        kind="length"
        usual={probe.effective_diameter ?? 6}
        none="the same"
      />
      <QuantityRow pointer={`${base}/off_x`} kind="length" />
      <QuantityRow pointer={`${base}/off_y`} kind="length" />
      <LimitRow label="At the spindle's angle" pointer={`${base}/angle_deg`} kind="angle" usual={0} none="not set" />
      <LimitRow
        label="At the feed"
        pointer={`${base}/qualified_feed`}
        kind="feed"
        usual={probe.measure_feed}
        none="not known"
      />
      <LimitRow label="Again after, days" pointer={`${base}/due_days`} kind="count" usual={30} none="only a knock" />
      <Knocked base={base} probe={probe} />
      <Artefact base={base} probe={probe} />
    </>
  );
}

/** Whether it is due again, and what is done after a knock: what was qualified holds no longer. */
function Knocked({ base, probe }: { base: string; probe: Probe }) {
  const stage = useMachine((machine) => machine?.stages.find((entry) => entry.name === "Probes"));
  return (
    <div className="flex flex-wrap items-center gap-x-4 px-4 py-1 text-[14px]">
      {stage?.mark === "stale" && stage.why.includes("due again") && <p className="text-warn">{stage.why}</p>}
      {may("technician") && probe.effective_diameter !== null && (
        <button type="button" className="link" onClick={() => void edit(`${base}/effective_diameter`, null)}>
          it was knocked: no longer qualified
        </button>
      )}
    </div>
  );
}

/** What follows, and the fastest search as one action. */
function Worked() {
  const { derived, index, probe } = useProbe();
  if (!derived || !probe) return null;
  const { push, within, fastest } = derived.search;
  return (
    <>
      <div className="group-title">What follows</div>
      {Object.entries(derived.workings).map(([name, working]) => (
        <DerivationRow key={name} name={name} working={working} warn={name === "push" && push > within} />
      ))}
      {fastest !== null && fastest !== probe.search_feed && may("technician") && (
        <p className="px-4 py-1">
          <button
            type="button"
            className="button plain min-h-9!"
            onClick={() => void edit(`/probes/${index}/search_feed`, fastest)}
          >
            Search at the fastest feed
          </button>
        </p>
      )}
    </>
  );
}
