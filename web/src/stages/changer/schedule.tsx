/** The quantities of the changer, beside the sheet. */
import { useWork } from "../../work/store";
import { ReservedPockets, StyleSignals } from "./around";
import { AddChanger, StyleNote } from "./choose-style";
import { hasPockets } from "./of-changer";
import { viewOf } from "./styles";

export function ChangerSchedule() {
  const changer = useWork((work) => work.document?.changer);
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
