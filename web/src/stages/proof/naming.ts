/** The tools of a proof's exchanges, and those that it measures. */
import type { Sequence } from "../../sequences/sequence";

export const toolName = (tool: number) => (tool ? `T${tool}` : "empty");

/** The tools that exchanges go between, and those that are measured. */
export function toolsOf(every: Sequence[]): { exchanged: number[]; measured: number[] } {
  const ends = every.flatMap((of) => (of.kind === "exchange" ? [of.from_tool, of.to_tool] : []));
  const measured = every.flatMap((of) => (of.kind === "measuring" ? of.tools : []));
  return { exchanged: [...new Set(ends)].sort((a, b) => a - b), measured };
}

export const exchangeOf = (from: number, to: number): Sequence => ({ kind: "exchange", from_tool: from, to_tool: to });

export const measuringOf = (tool: number): Sequence => ({
  kind: "measuring",
  name: "measure",
  tools: [tool],
  setter: null,
});
