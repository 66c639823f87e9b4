/** The tools of a proof's exchanges, and those that it measures. */
import type { Sequence } from "../../sequences/sequence";

/** The measuring sequence that each tool is measured with. */
export const USUAL = "measure";

export const toolName = (tool: number) => (tool ? `T${tool}` : "empty");

/** The tools that exchanges go between, and those that are measured. */
export function toolsOf(every: Sequence[]): { exchanged: number[]; measured: number[] } {
  const ends = every.flatMap((of) => (of.kind === "exchange" ? [of.from_tool, of.to_tool] : []));
  const measured = every.flatMap((of) => (of.kind === "measuring" && of.name === USUAL ? of.tools : []));
  return { exchanged: [...new Set(ends)].sort((a, b) => a - b), measured };
}

export const exchangeOf = (from: number, to: number): Sequence => ({ kind: "exchange", from_tool: from, to_tool: to });

export const measuringOf = (tool: number): Sequence => ({
  kind: "measuring",
  name: USUAL,
  tools: [tool],
  setter: null,
});
