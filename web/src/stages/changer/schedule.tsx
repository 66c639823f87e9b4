/** The quantities of the changer, beside the sheet. */

import { viewOf } from "../../changers";
import { hasPockets } from "../../changers/of-changer";
import { useSetup } from "../../work/document";
import { ReservedPockets, StyleSignals } from "./around";
import { AddChanger, StyleNote } from "./choose-style";

export function ChangerSchedule() {
  const changer = useSetup((setup) => setup?.changer);
  const view = viewOf(changer);
  if (!changer || !view) return <AddChanger />;
  return (
    <div className="pb-6">
      <view.Schedule changer={changer} />
      {hasPockets(changer) && <ReservedPockets />}
      <StyleSignals />
      <StyleNote />
    </div>
  );
}
