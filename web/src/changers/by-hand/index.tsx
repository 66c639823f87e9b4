/** No magazine: a person changes the tool at a place that the spindle goes to. */
import type { Changer } from "../../api/client";
import type { Projection } from "../../drawing/projection";
import { DerivedRow, QuantityRow } from "../../fields/rows";
import { may } from "../../session/session";
import { edit } from "../../work/editing";
import type { StyleView } from "../kind";

type ByHand = Extract<Changer, { style: "by hand" }>;

function Schedule({ changer }: { changer: ByHand }) {
  return (
    <>
      <div className="group-title">
        Loading place <small>tools by hand</small>
      </div>
      <QuantityRow pointer="/changer/x" kind="length" />
      <QuantityRow pointer="/changer/y" kind="length" />
      <QuantityRow pointer="/changer/z" kind="length" />
      <div className="row" style={{ gridTemplateColumns: "1fr 142px" }}>
        <label htmlFor="axis-order">Axes go in this order</label>
        <select
          id="axis-order"
          className="choice"
          value={changer.order.join(" ")}
          disabled={!may("technician")}
          onChange={(event) => void edit("/changer/order", event.currentTarget.value.split(" "))}
        >
          {["Z X Y", "Z Y X", "X Y Z", "Y X Z", "X Z Y", "Y Z X"].map((entry) => (
            <option key={entry}>{entry}</option>
          ))}
        </select>
      </div>
      <QuantityRow pointer="/changer/room" kind="length" />
      <DerivedRow name="spare_room" />
    </>
  );
}

/** The place where a person changes the tool. */
function Mark({ changer, to }: { changer: ByHand; to: Projection }) {
  const [x, y] = [to.atX(changer.x), to.atY(changer.y)];
  return (
    <g>
      <path d={`M${x - 26} ${y}h52M${x} ${y - 26}v52`} className="line-centre" />
      <circle cx={x} cy={y} r="16" fill="none" className="line-outline" />
      <text x={x} y={y - 26} textAnchor="middle" style={{ fontWeight: 600 }}>
        loading place
      </text>
    </g>
  );
}

const view: StyleView<ByHand> = {
  style: "by hand",
  name: "tools by hand",
  says: "The spindle goes to a loading place and asks for the tool.",
  holds: "nut",
  anyTool: true,
  rungs: ["park"],
  rungName: "loading",
  Schedule,
  Dimensions: () => null,
  Mark,
  heights: () => [],
  extent: (changer) => ({
    x: [changer.x - 130, changer.x + 130],
    y: [changer.y - 60, changer.y + 140],
    z: [changer.z - changer.room],
  }),
};

export default view;
