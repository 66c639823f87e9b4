/** The quantities of the changer, beside the sheet. */
import { useState } from "react";
import { type Changer, client, refusal } from "../../api/client";
import { DerivedRow, QuantityRow } from "../../quantity/rows";
import { may } from "../../shell/session";
import { useWork } from "../../work/store";

export function ChangerSchedule() {
  const changer = useWork((work) => work.document?.changer);
  const greatest = useWork((work) => Math.abs(work.answer?.derived?.workings.greatest_lift?.value ?? 0));
  const riser = useWork((work) => work.answer?.derived?.workings.riser?.value ?? 0);
  const anyTools = useWork((work) => work.document?.tools.some((tool) => tool.pocket !== null));
  if (!changer) return <AddRack />;
  const rack = "/changer/rack";
  const heights = "/changer/heights";
  const thread = "/changer/coupling";
  const datum = changer.rack.datum;
  return (
    <div className="pb-6">
      <div className="group-title">
        Rack <small>thread-on, {changer.rack.count} pockets</small>
      </div>
      <DatumRow />
      {datum.at === "pocket" && (
        <QuantityRow
          label="Datum pocket"
          pointer={`${rack}/datum/pocket`}
          kind="count"
          hint="The pocket whose place was measured."
        />
      )}
      <QuantityRow
        label="Datum X"
        pointer={`${rack}/datum/x`}
        kind="length"
        hint="Machine X of the datum: jog the spindle over it and read the position."
      />
      <QuantityRow label="Datum Y" pointer={`${rack}/datum/y`} kind="length" hint="Machine Y of the datum." />
      <QuantityRow
        label="Bearing"
        pointer={`${rack}/bearing_deg`}
        kind="angle"
        hint="The way from pocket 1 to the next, counter-clockwise from +X."
      />
      <QuantityRow label="Pitch" pointer={`${rack}/pitch`} kind="length" hint="From one pocket's axis to the next." />
      <QuantityRow label="Pockets" pointer={`${rack}/count`} kind="count" />

      <div className="group-title">
        Heights <small>nose, machine Z</small>
      </div>
      <QuantityRow
        label="Nose on spacer"
        pointer={`${heights}/touch_z`}
        kind="length"
        hint="Machine Z with the bare nose resting on the setting spacer."
      />
      <QuantityRow
        label="Rack sunk by"
        pointer={`${heights}/recess`}
        kind="length"
        hint="How far the rack is sunk below the face the spacer stood on."
      />
      <QuantityRow
        label="Stored top"
        pointer={`${heights}/stored_top_z`}
        kind="length"
        hint="Machine Z at which the bare nose would touch the highest stored thing."
      />
      <QuantityRow
        label="Margin"
        pointer={`${heights}/margin`}
        kind="length"
        hint="10 to 20 mm is usual on a router."
      />
      <QuantityRow
        label="Hover gap"
        pointer={`${heights}/hover_gap`}
        kind="length"
        hint="Couple to hover: the engaged thread and the gap in which the feed is reached."
      />
      <QuantityRow
        label="Pocket depth"
        pointer={`${heights}/pocket_depth`}
        kind="length"
        hint="Free depth below a coupled nose."
      />
      <QuantityRow
        label="Park"
        pointer={`${heights}/park_z`}
        kind="length"
        hint="Fully clear of everything; near the top of travel."
      />
      {!anyTools && (
        <QuantityRow
          label="Longest tool, planned"
          pointer={`${heights}/planned_longest`}
          kind="length"
          hint="Stands for the longest tool until tools are stored."
        />
      )}
      <DerivedRow name="couple_z" />
      <DerivedRow name="hover_z" />
      <DerivedRow name="empty_z" />
      <DerivedRow name="carry_z" />
      <DerivedRow name="riser" warn={riser > 0} />

      <div className="group-title">
        Coupling <small>the turning spindle and the nut</small>
      </div>
      <QuantityRow label="Lead" pointer={`${thread}/lead`} kind="length" hint="1 to 2 mm is usual." />
      <QuantityRow
        label="Engaged thread"
        pointer={`${thread}/engaged_length`}
        kind="length"
        hint="7 to 12 mm is usual."
      />
      <QuantityRow label="Speed" pointer={`${thread}/speed`} kind="speed" hint="800 to 1 800 rev/min is usual." />
      <QuantityRow
        label="Speed cap"
        pointer={`${thread}/speed_cap`}
        kind="speed"
        hint="More would tighten the nut too hard."
      />
      <QuantityRow label="Feed" pointer={`${thread}/feed`} kind="feed" hint="Lead times speed is the ideal feed." />
      <QuantityRow
        label="Dwell"
        pointer={`${thread}/dwell`}
        kind="time"
        hint="At couple height, until the nut is on or off."
      />
      <QuantityRow
        label="Lift allowed"
        pointer={`${thread}/lift_allowed`}
        kind="length"
        hint="The pocket's float, up and down."
      />
      <QuantityRow
        label="Flats catch"
        pointer={`${thread}/flats_height`}
        kind="length"
        hint="How far above its seat the pocket's flats catch the nut."
      />
      <ObservedLift />
      <DerivedRow name="greatest_lift" sign warn={greatest > changer.coupling.lift_allowed} />
      <DerivedRow name="lift" sign />
      <DerivedRow name="end_lift" sign />
      <DerivedRow name="ideal_feed" />
      <DerivedRow name="feed_limit" />
      <DerivedRow name="corrected_feed" />
      <DerivedRow name="ramp_distance" />
      <DerivedRow name="approach_gap" />
      <DerivedRow name="turns" />

      <div className="group-title">
        Block and nut <small>for the drawing and the run</small>
      </div>
      <QuantityRow label="Nut diameter" pointer={`${thread}/nut_diameter`} kind="length" />
      <QuantityRow
        label="Hole diameter"
        pointer={`${thread}/hole_diameter`}
        kind="length"
        hint="What a cutter must pass through."
      />
      <QuantityRow label="Block width" pointer={`${rack}/width`} kind="length" />
      <QuantityRow label="Beyond end pockets" pointer={`${rack}/end`} kind="length" />
      <QuantityRow label="Block height" pointer={`${rack}/height`} kind="length" />
      <QuantityRow
        label="Block top below nose"
        pointer={`${rack}/top_below_nose`}
        kind="length"
        hint="From a coupled nose down to the block's top."
      />
      <ReservedPockets />
    </div>
  );
}

function DatumRow() {
  const datum = useWork((work) => work.document?.changer?.rack.datum);
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

function ObservedLift() {
  const observed = useWork((work) => work.document?.changer?.coupling.observed_lift);
  const { edit } = useWork.getState();
  const pointer = "/changer/coupling/observed_lift";
  if (observed === null || observed === undefined)
    return may("technician") ? (
      <button type="button" className="link mx-4 my-1" onClick={() => void edit(pointer, 0)}>
        Note what the nut did
      </button>
    ) : null;
  return (
    <>
      <QuantityRow
        label="Observed lift"
        pointer={pointer}
        kind="length"
        hint="What the nut did at this feed; positive: it was drawn up."
      />
      {may("technician") && (
        <button type="button" className="link mx-4" onClick={() => void edit(pointer, null)}>
          Forget it
        </button>
      )}
    </>
  );
}

type Reserved = Changer["reserved"];

function ReservedPockets() {
  const reserved = useWork((work) => work.document?.changer?.reserved) ?? [];
  const tools = useWork((work) => work.document?.tools) ?? [];
  const count = useWork((work) => work.document?.changer?.rack.count) ?? 0;
  const top = useWork((work) => work.document?.changer?.heights.stored_top_z) ?? 0;
  const { edit } = useWork.getState();
  const taken = new Set([...reserved.map((entry) => entry.pocket), ...tools.map((tool) => tool.pocket)]);
  const free = Array.from({ length: count }, (_, index) => index + 1).filter((pocket) => !taken.has(pocket));
  return (
    <>
      <div className="group-title">
        Reserved pockets <small>{reserved.length || "none"}</small>
      </div>
      {reserved.map((entry, index) => (
        <div key={entry.pocket}>
          <QuantityRow label={`${entry.what}: pocket`} pointer={`/changer/reserved/${index}/pocket`} kind="count" />
          <QuantityRow
            label={`${entry.what}: diameter`}
            pointer={`/changer/reserved/${index}/diameter`}
            kind="length"
          />
          <QuantityRow
            label={`${entry.what}: top, machine Z`}
            pointer={`/changer/reserved/${index}/top_z`}
            kind="length"
          />
          {may("technician") && (
            <button
              type="button"
              className="link mx-4"
              onClick={() =>
                void edit("/changer/reserved", (now: Reserved) => now.filter((other) => other.pocket !== entry.pocket))
              }
            >
              Take the {entry.what} out
            </button>
          )}
        </div>
      ))}
      {may("technician") && free.length > 0 && (
        <button
          type="button"
          className="link mx-4 my-1"
          onClick={() =>
            void edit("/changer/reserved", (now: Reserved) => [
              ...now,
              { pocket: free.at(-1), what: "setter", diameter: 30, top_z: top },
            ])
          }
        >
          Reserve a pocket for a setter
        </button>
      )}
    </>
  );
}

function AddRack() {
  const [trouble, setTrouble] = useState<string | null>(null);
  const add = async () => {
    const { document, edit } = useWork.getState();
    if (!document) return;
    const { data, error } = await client.POST("/api/changer-template", { body: { document } });
    if (!data) return setTrouble(refusal(error));
    const faults = await edit("/changer", data);
    setTrouble(faults.map((fault) => fault.what).join(" ") || null);
  };
  return (
    <div className="p-5">
      <h2 className="font-semibold">No changer yet</h2>
      <p className="mt-1 text-ink-2">
        Add a rack; it starts with usual numbers, which you then replace by measured ones.
      </p>
      {may("technician") && (
        <button type="button" className="button first mt-4" onClick={add}>
          Add a thread-on rack
        </button>
      )}
      {trouble && <p className="says wrong">{trouble}</p>}
    </div>
  );
}
