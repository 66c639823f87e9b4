/** Where a value came from: when it was measured, or that it was typed; marked where what it rests on was replaced since. */
import type { Reading } from "../api/client";
import { when } from "../quantity/when";

export function RestsOn({ reading }: { reading: Reading | null }) {
  if (!reading) return <span className="block text-[13px] text-ink-3">typed</span>;
  return (
    <>
      <span className="block text-[13px] text-ink-3">measured {when(reading.measured_at ?? reading.taken)}</span>
      {reading.replaced.length > 0 && (
        <span className="block text-[13px] text-warn" data-replaced>
          with another {reading.replaced.join(", ")}: measure it again
        </span>
      )}
    </>
  );
}
