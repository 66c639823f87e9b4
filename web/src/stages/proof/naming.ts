/** What a sequence of the proof is called, and where it is played: an exchange, on the diagonal measuring a tool, or a routine by its
 * name. */
import type { Finding } from "../../api/client";
import { findingPart } from "../../shell/following";

export const named = (tool: number) => (tool ? `T${tool}` : "empty");

export type Sequence = { from_tool: number; to_tool: number; routine: string };

/** Tells a sequence from all others. */
export const keyOf = (of: Sequence) => of.routine || `${of.from_tool}-${of.to_tool}`;

/** The tools that exchanges go between, and those that are measured. */
export function labelsOf(pairs: Sequence[]): { exchanged: number[]; measured: number[] } {
  const ends = pairs.filter((pair) => pair.from_tool !== pair.to_tool);
  const exchanged = [...new Set(ends.flatMap((pair) => [pair.from_tool, pair.to_tool]))].sort((a, b) => a - b);
  const all = pairs.filter((pair) => pair.from_tool === pair.to_tool && !pair.routine).map((pair) => pair.from_tool);
  return { exchanged, measured: all };
}

export const pairNamed = ({ from_tool: from, to_tool: to, routine }: Sequence) =>
  routine || (from === to ? `measuring T${from}` : `${named(from)} to ${named(to)}`);

/** The address at which a sequence is played, at a finding of it. */
export function placeOf(slug: string, { from_tool: from, to_tool: to, routine }: Sequence, finding: Finding): string {
  const [stage, parts] = routine
    ? ["routines", { routine }]
    : from === to
      ? ["setter", { sequence: "measure", tools: String(from) }]
      : ["changer", { from: String(from), to: String(to) }];
  return `/machines/${slug}/${stage}?${new URLSearchParams({ ...parts, finding: findingPart(finding) })}`;
}
