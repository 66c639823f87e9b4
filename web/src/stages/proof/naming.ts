/** What a sequence of the proof is called: an exchange, or on the diagonal measuring a tool. */
export const named = (tool: number) => (tool ? `T${tool}` : "empty");

export const pairNamed = (from: number, to: number) =>
  from === to ? `measuring T${from}` : `${named(from)} to ${named(to)}`;
