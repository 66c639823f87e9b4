/** The rows of the changer's schedule that styles share. */
import type { Rack } from "../api/client";
import { ChoiceRow, DerivedRow, QuantityRow, TextRow, YesNoRow } from "../fields/rows";
import { may } from "../session/session";
import { previewNow, usePreview, useSetup } from "../work/document";
import { edit } from "../work/editing";
import { read } from "../work/pointer";
import { useVocabulary } from "../work/vocabulary";
import { rackOf } from "./of-changer";
import { BLOCK, DEPTHS, DISC, GRIP, HEIGHTS, ORIENTATION, type Quantity, ROW } from "./quantities";

export function Rows({ base, rows }: { base: string; rows: Quantity[] }) {
  return rows.map(([name, kind]) => <QuantityRow key={name} pointer={`${base}/${name}`} kind={kind} />);
}

/** Where the pockets of a rack are. */
export function RackRows({ rack, name }: { rack: Rack; name: string }) {
  const base = "/changer/rack";
  const count = rack.count * (rack.rows ?? 1);
  return (
    <>
      <div className="group-title">
        {rack.rows && rack.rows > 1 ? "Grid" : "Rack"}{" "}
        <small>
          {name}, {count} pockets
        </small>
      </div>
      <DatumRow />
      {rack.datum.at === "pocket" && <QuantityRow pointer={`${base}/datum/pocket`} kind="count" />}
      <QuantityRow pointer={`${base}/datum/x`} kind="length" />
      <QuantityRow pointer={`${base}/datum/y`} kind="length" />
      <Rows base={base} rows={ROW} />
      {(rack.rows ?? 1) > 1 && <QuantityRow pointer={`${base}/row_pitch`} kind="length" />}
    </>
  );
}

/** The heights of a rack's ladder; ``knob``: what is taken has a taper and a knob. */
export function RackHeightRows({ knob }: { knob?: boolean }) {
  const words = useHeightWords();
  const recess = useSetup((setup) => read(setup, "/changer/heights/recess"));
  const riser = usePreview((answer) => answer?.derived?.workings.riser?.value ?? 0);
  const base = "/changer/heights";
  return (
    <>
      <HeightsTitle />
      <QuantityRow label={words.touch_z ?? "Seat, measured"} pointer={`${base}/touch_z`} kind="length" />
      {(words.recess || recess !== 0) && (
        <QuantityRow label={words.recess ?? "Rack sunk by"} pointer={`${base}/recess`} kind="length" />
      )}
      <Rows base={base} rows={HEIGHTS} />
      <QuantityRow pointer={`${base}/hover_gap`} kind="length" />
      <DepthRows />
      <DerivedRow name="couple_z" />
      <DerivedRow name="hover_z" />
      <DerivedRow name="empty_z" />
      <DerivedRow name="carry_z" />
      <DerivedRow name="riser" warn={riser > 0} />
      {knob && <DerivedRow name="approach_gap" />}
    </>
  );
}

/** The style's own words for its heights. */
function useHeightWords(): Record<string, string> {
  const style = useSetup((setup) => setup?.changer?.style);
  return useVocabulary((words) => (style ? words.styles[style]?.words : undefined)) ?? NO_WORDS;
}

const NO_WORDS: Record<string, string> = {};

/** The heights of a disc's exchange; without ``hover`` the spindle stays where it is. */
export function DiscHeightRows({ hover }: { hover: boolean }) {
  const words = useHeightWords();
  const riser = usePreview((answer) => answer?.derived?.workings.riser?.value ?? 0);
  const base = "/changer/heights";
  return (
    <>
      <HeightsTitle />
      <QuantityRow label={words.touch_z ?? "Exchange height"} pointer={`${base}/touch_z`} kind="length" />
      {hover && <QuantityRow pointer={`${base}/hover_gap`} kind="length" />}
      <DepthRows />
      <DerivedRow name="couple_z" />
      {hover && <DerivedRow name="hover_z" />}
      <DerivedRow name="riser" warn={riser > 0} />
      {hover && <DerivedRow name="approach_gap" />}
    </>
  );
}

function HeightsTitle() {
  return (
    <div className="group-title">
      Heights <small>nose, machine Z</small>
    </div>
  );
}

function DepthRows() {
  const anyTools = useSetup((setup) => setup?.tools.some((tool) => tool.pocket !== null));
  const base = "/changer/heights";
  return (
    <>
      <Rows base={base} rows={DEPTHS} />
      {!anyTools && <QuantityRow pointer={`${base}/planned_longest`} kind="length" />}
    </>
  );
}

/** The drawbar's grip and the holders it takes. */
export function GripRows() {
  return (
    <>
      <div className="group-title">
        Grip <small>drawbar and holder</small>
      </div>
      <Rows base="/changer/grip" rows={GRIP} />
    </>
  );
}

/** The spindle's angle at an exchange. */
export function OrientationRows() {
  return (
    <>
      <div className="group-title">
        Spindle angle <small>at the exchange</small>
      </div>
      <Rows base="/changer/orientation" rows={ORIENTATION} />
      <YesNoRow label="Half a turn off is allowed" pointer="/changer/orientation/half_turn" />
    </>
  );
}

/** The rack's block. */
export function BlockRows({ title = "Block", children }: { title?: string; children?: React.ReactNode }) {
  return (
    <>
      <div className="group-title">
        {title} <small>for the drawing and the run</small>
      </div>
      {children}
      <Rows base="/changer/rack" rows={BLOCK} />
    </>
  );
}

/** A disc, and where the spindle meets it; ``children``: what brings its tools. */
export function DiscRows({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <>
      <div className="group-title">
        Disc <small>{name}</small>
      </div>
      <QuantityRow pointer="/changer/exchange/x" kind="length" />
      <QuantityRow pointer="/changer/exchange/y" kind="length" />
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
      {children}
      <DerivedRow name="pocket_pitch" />
      <DerivedRow name="longest_turn" />
    </>
  );
}

function DatumRow() {
  const datum = useSetup((setup) => rackOf(setup?.changer)?.datum);
  const first = usePreview((answer) => answer?.derived?.pockets[0]);
  if (!datum || !first) return null;
  const choose = (at: string) => {
    const answer = previewNow();
    const { pockets, middle } = answer?.derived ?? {};
    const one = pockets?.[0];
    if (!one || !middle) return;
    const next = at === "pocket" ? { at, pocket: 1, x: one.x, y: one.y } : { at, x: middle[0], y: middle[1] };
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
