/** The expected place taken from where the machine stands now. */
import { Crosshair } from "lucide-react";
import { useState } from "react";
import type { Routine } from "../../api/client";
import { described } from "../../fields/rows";
import { useLive } from "../../live/live";
import { may } from "../../session/session";
import { edit } from "../../work/editing";

export function Capture({ index, routine }: { index: number; routine: Routine }) {
  const position = useLive((live) => live.reported?.position);
  const homed = useLive((live) => live.reported?.homed);
  const [said, setSaid] = useState("");
  if (!position || !may("technician")) return null;
  const { X, Y } = position;
  const take = async () => {
    if (X === undefined || Y === undefined) return;
    const pointer = `/routines/${index}`;
    setSaid(described(await edit(pointer, (before: Routine) => ({ ...before, x: X, y: Y }))));
  };
  return (
    <p className="px-4 py-1">
      <button
        type="button"
        className="button plain min-h-9! px-2!"
        disabled={!homed}
        title={homed ? `Take X and Y of ${routine.name} from the machine` : "Home the machine first"}
        onClick={() => void take()}
      >
        <Crosshair size={15} /> Take X and Y from the machine
      </button>
      {said && <span className="text-stop"> {said}</span>}
    </p>
  );
}
