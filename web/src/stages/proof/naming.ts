/** What a sequence of the proof is called: an exchange, or on the diagonal measuring a tool. */
export const named = (tool: number) => (tool ? `T${tool}` : "empty");

type Sequence = { from_tool: number; to_tool: number };

/** The tools that exchanges go between, and those that are only measured. */
export function labelsOf(pairs: Sequence[]): { exchanged: number[]; measured: number[] } {
  const ends = pairs.filter((pair) => pair.from_tool !== pair.to_tool);
  const exchanged = [...new Set(ends.flatMap((pair) => [pair.from_tool, pair.to_tool]))].sort((a, b) => a - b);
  const all = pairs.filter((pair) => pair.from_tool === pair.to_tool).map((pair) => pair.from_tool);
  return { exchanged, measured: all.filter((tool) => !exchanged.includes(tool)) };
}

export const pairNamed = (from: number, to: number) =>
  from === to ? `measuring T${from}` : `${named(from)} to ${named(to)}`;
