/** The quantities of the changer, beside the sheet. */
import type { PocketChanger, Rack } from "../../api/client";
import { ChoiceRow, DerivedRow, QuantityRow, TextRow, YesNoRow } from "../../quantity/rows";
import { may } from "../../shell/session";
import { useWork } from "../../work/store";
import { ReservedPockets, StyleSignals } from "./around";
import { AddChanger, StyleNote } from "./choose-style";
import {
  ARM,
  BLOCK,
  COUPLING,
  DEPTHS,
  DISC,
  FORKS,
  GRIP,
  HEIGHTS,
  NUT,
  ORIENTATION,
  type Quantity,
  ROW,
} from "./quantities";
import { pocketCount, rackOf, STYLES } from "./styles";
import { ThreadLibrary, Tuning } from "./tuning";

function Rows({ base, rows }: { base: string; rows: Quantity[] }) {
  return rows.map(([label, name, kind, hint]) => (
    <QuantityRow key={name} label={label} pointer={`${base}/${name}`} kind={kind} hint={hint} />
  ));
}

export function ChangerSchedule() {
  const changer = useWork((work) => work.document?.changer);
  if (!changer) return <AddChanger />;
  return (
    <div className="pb-6">{changer.style === "by hand" ? <ByHandRows /> : <MagazineRows changer={changer} />}</div>
  );
}

function MagazineRows({ changer }: { changer: PocketChanger }) {
  const rack = rackOf(changer);
  const count = pocketCount(changer);
  return (
    <>
      {rack ? (
        <>
          <div className="group-title">
            {rack.rows && rack.rows > 1 ? "Grid" : "Rack"}{" "}
            <small>
              {STYLES[changer.style].name}, {count} pockets
            </small>
          </div>
          <PlaceRows rack={rack} />
        </>
      ) : (
        "disc" in changer && <DiscRows changer={changer} />
      )}
      <HeightRows rack={Boolean(rack)} />
      {"coupling" in changer ? <CouplingRows coupling={changer.coupling} /> : <GripRows changer={changer} />}
      {rack && (
        <>
          <div className="group-title">
            Block {changer.style === "thread-on" && "and nut"} <small>for the drawing and the run</small>
          </div>
          {changer.style === "thread-on" && <Rows base="/changer/coupling" rows={NUT} />}
          <Rows base="/changer/rack" rows={BLOCK} />
        </>
      )}
      <ReservedPockets />
      <StyleSignals />
      <StyleNote />
    </>
  );
}

function PlaceRows({ rack }: { rack: Rack }) {
  const base = "/changer/rack";
  return (
    <>
      <DatumRow />
      {rack.datum.at === "pocket" && (
        <QuantityRow
          label="Datum pocket"
          pointer={`${base}/datum/pocket`}
          kind="count"
          hint="The pocket whose place was measured."
        />
      )}
      <QuantityRow
        label="Datum X"
        pointer={`${base}/datum/x`}
        kind="length"
        hint="Machine X of the datum: jog the spindle over it and read the position."
      />
      <QuantityRow label="Datum Y" pointer={`${base}/datum/y`} kind="length" hint="Machine Y of the datum." />
      <Rows base={base} rows={ROW} />
      {(rack.rows ?? 1) > 1 && (
        <QuantityRow label="Row pitch" pointer={`${base}/row_pitch`} kind="length" hint="From one row to the next." />
      )}
    </>
  );
}

function HeightRows({ rack }: { rack: boolean }) {
  const anyTools = useWork((work) => work.document?.tools.some((tool) => tool.pocket !== null));
  const riser = useWork((work) => work.answer?.derived?.workings.riser?.value ?? 0);
  const threaded = useWork((work) => work.document?.changer?.style === "thread-on");
  const arm = useWork((work) => work.document?.changer?.style === "disc with arm");
  const base = "/changer/heights";
  return (
    <>
      <div className="group-title">
        Heights <small>nose, machine Z</small>
      </div>
      <QuantityRow
        label={rack ? "Nose on spacer" : "Exchange height"}
        pointer={`${base}/touch_z`}
        kind="length"
        hint={
          rack
            ? "Machine Z with the bare nose resting on the setting spacer."
            : "Machine Z of the gauge line where a tool is handed over."
        }
      />
      {rack && <Rows base={base} rows={HEIGHTS} />}
      {!arm && (
        <QuantityRow
          label="Hover gap"
          pointer={`${base}/hover_gap`}
          kind="length"
          hint={
            threaded
              ? "Couple to hover: the engaged thread and the gap in which the feed is reached."
              : "Couple to hover: more than taper and knob stand above the gauge line."
          }
        />
      )}
      <Rows base={base} rows={DEPTHS} />
      {!anyTools && (
        <QuantityRow
          label="Longest tool, planned"
          pointer={`${base}/planned_longest`}
          kind="length"
          hint="Stands for the longest tool until tools are stored."
        />
      )}
      <DerivedRow name="couple_z" />
      {!arm && <DerivedRow name="hover_z" />}
      {rack && <DerivedRow name="empty_z" />}
      {rack && <DerivedRow name="carry_z" />}
      <DerivedRow name="riser" warn={riser > 0} />
      {!threaded && !arm && <DerivedRow name="approach_gap" />}
    </>
  );
}

function CouplingRows({ coupling }: { coupling: Extract<PocketChanger, { coupling: unknown }>["coupling"] }) {
  const greatest = useWork((work) => Math.abs(work.answer?.derived?.workings.greatest_lift?.value ?? 0));
  return (
    <>
      <div className="group-title">
        Coupling <small>the turning spindle and the nut</small>
      </div>
      <ThreadLibrary coupling={coupling} />
      <Rows base="/changer/coupling" rows={COUPLING} />
      <ChoiceRow
        label="The nut runs off"
        pointer="/changer/coupling/put_down"
        choices={[
          ["going down", "going down"],
          ["rising", "rising"],
        ]}
      />
      <DerivedRow name="greatest_lift" sign warn={greatest > coupling.lift_allowed} />
      <DerivedRow name="lift" sign />
      <DerivedRow name="end_lift" sign />
      <DerivedRow name="ideal_feed" />
      <DerivedRow name="feed_limit" />
      <DerivedRow name="corrected_feed" />
      <DerivedRow name="ramp_distance" />
      <DerivedRow name="approach_gap" />
      <DerivedRow name="turns" />
      <Tuning coupling={coupling} />
    </>
  );
}

function GripRows({ changer }: { changer: Exclude<PocketChanger, { style: "thread-on" }> }) {
  return (
    <>
      <div className="group-title">
        Grip <small>drawbar and holder</small>
      </div>
      <Rows base="/changer/grip" rows={GRIP} />
      {changer.style === "drop-in" && (
        <QuantityRow
          label="Hole diameter"
          pointer="/changer/hole_diameter"
          kind="length"
          hint="What a cutter must pass through."
        />
      )}
      {changer.style === "side-entry" && (
        <>
          <div className="group-title">
            Forks <small>entered along their mouth</small>
          </div>
          <Rows base="/changer/forks" rows={FORKS} />
        </>
      )}
      {"orientation" in changer && (
        <>
          <div className="group-title">
            Spindle angle <small>at the exchange</small>
          </div>
          <Rows base="/changer/orientation" rows={ORIENTATION} />
          <YesNoRow label="Half a turn off will do" pointer="/changer/orientation/half_turn" />
        </>
      )}
    </>
  );
}

function DiscRows({ changer }: { changer: Extract<PocketChanger, { disc: unknown }> }) {
  return (
    <>
      <div className="group-title">
        Disc <small>{STYLES[changer.style].name}</small>
      </div>
      <QuantityRow
        label="Exchange place X"
        pointer="/changer/exchange/x"
        kind="length"
        hint="Where the spindle stands for an exchange: the one place that is taught."
      />
      <QuantityRow label="Exchange place Y" pointer="/changer/exchange/y" kind="length" />
      <Rows base="/changer/disc" rows={DISC} />
      <ChoiceRow
        label="Numbers go"
        pointer="/changer/disc/sense"
        choices={[
          ["ccw", "counter-clockwise"],
          ["cw", "clockwise"],
        ]}
      />
      <ChoiceRow
        label="It turns"
        pointer="/changer/disc/way"
        choices={[
          ["shorter", "the shorter way"],
          ["forwards", "always forwards"],
        ]}
      />
      <TextRow short label="Turn word" pointer="/changer/disc/turn_word" />
      {changer.style === "moving disc" && (
        <QuantityRow
          label="Swing"
          pointer="/changer/swing"
          kind="length"
          hint="How far the disc swings from home to the spindle, along its bearing."
        />
      )}
      {changer.style === "disc with arm" && (
        <>
          <Rows base="/changer/arm" rows={ARM} />
          <ChoiceRow
            label="Tools"
            pointer="/changer/arm/tools"
            choices={[
              ["change pockets", "change pockets"],
              ["keep their pockets", "keep their pockets"],
            ]}
          />
        </>
      )}
      <DerivedRow name="pocket_pitch" />
      <DerivedRow name="longest_turn" />
    </>
  );
}

function ByHandRows() {
  const order = useWork((work) => {
    const changer = work.document?.changer;
    return changer?.style === "by hand" ? changer.order.join(" ") : "";
  });
  return (
    <>
      <div className="group-title">
        Loading place <small>tools by hand</small>
      </div>
      <QuantityRow
        label="X"
        pointer="/changer/x"
        kind="length"
        hint="Where the spindle stands while a tool is changed."
      />
      <QuantityRow label="Y" pointer="/changer/y" kind="length" />
      <QuantityRow label="Z" pointer="/changer/z" kind="length" hint="High: it goes back at this height." />
      <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
        <label htmlFor="axis-order">Axes go in this order</label>
        <select
          id="axis-order"
          className="choice"
          value={order}
          disabled={!may("technician")}
          onChange={(event) => void useWork.getState().edit("/changer/order", event.currentTarget.value.split(" "))}
        >
          {["Z X Y", "Z Y X", "X Y Z", "Y X Z", "X Z Y", "Y Z X"].map((entry) => (
            <option key={entry}>{entry}</option>
          ))}
        </select>
      </div>
      <QuantityRow
        label="Room below the nose"
        pointer="/changer/room"
        kind="length"
        hint="Free height for the longest tool."
      />
      <DerivedRow name="spare_room" />
      <StyleSignals />
      <StyleNote />
    </>
  );
}

function DatumRow() {
  const datum = useWork((work) => rackOf(work.document?.changer)?.datum);
  const first = useWork((work) => work.answer?.derived?.pockets[0]);
  if (!datum || !first) return null;
  const { edit } = useWork.getState();
  const choose = (at: string) => {
    const { answer } = useWork.getState();
    const { pockets, centre } = answer?.derived ?? {};
    const one = pockets?.[0];
    if (!one || !centre) return;
    const next = at === "pocket" ? { at, pocket: 1, x: one.x, y: one.y } : { at, ...centre };
    void edit("/changer/rack/datum", next);
  };
  return (
    <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
      <label htmlFor="datum-at">Datum</label>
      <select
        id="datum-at"
        className="choice"
        value={datum.at}
        disabled={!may("technician")}
        onChange={(event) => choose(event.currentTarget.value)}
      >
        <option value="pocket">a pocket</option>
        <option value="centre">the rack's centre</option>
      </select>
    </div>
  );
}
