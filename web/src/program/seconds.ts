import type { Trace } from "../api/client";

/** Seconds by line, as often as it is run. */
export function secondsByLine(trace: Trace | null | undefined): Map<number, number> {
  const found = new Map<number, number>();
  for (const block of trace?.blocks ?? [])
    found.set(block.line, (found.get(block.line) ?? 0) + block.end_seconds - block.start_seconds);
  return found;
}
