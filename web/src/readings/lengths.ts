/** Changing a tool's length: what the control goes by until then is kept, so that it can be reported that it does not use the
 * new one yet. */
import type { Fault, RunOf, Tool } from "../api/client";
import { setupNow } from "../work/document";
import { edit } from "../work/editing";
import { takeReading } from "./readings";

type Change = Partial<Pick<Tool, "length" | "wear" | "in_use">>;

export const wholeLength = (tool: Tool) => tool.length + (tool.wear ?? 0);

/** Change the length or wear of a tool, by its place. */
export function changeLength(index: number, change: Change): Promise<Fault[]> {
  return edit(`/tools/${index}`, (before: Tool) => withLength(before, change));
}

/** A tool with another length or wear. */
export const withLength = (tool: Tool, change: Change): Tool => ({
  ...tool,
  in_use: tool.in_use ?? wholeLength(tool),
  ...change,
});

/** How a length was measured: in words, and where a control has measured it with what, when, and how well. */
export interface Measured {
  how: string;
  rests_on?: RunOf["rests_on"];
  measured?: string | null;
  half_width_95?: number | null;
}

/** Put a measured length on record as a reading, its wear at zero; what went wrong, or "". Where it says what it rests on, the
 * control has it already. */
export async function takeLength(tool: Tool, value: number, measured: Measured): Promise<string> {
  const used = measured.rests_on !== undefined;
  const index = setupNow()?.tools.findIndex((entry) => entry.number === tool.number) ?? -1;
  if (index < 0) return `T${tool.number} is not there any more.`;
  const trouble = await takeReading({ quantity: `/tools/${index}/length`, source: "typed", value, ...measured });
  if (trouble) return trouble;
  const faults = await changeLength(index, { length: value, wear: 0, ...(used ? { in_use: value } : {}) });
  return faults.map((fault) => fault.what).join(" ");
}

/** The same as wear: the length stays, and what it has become shorter by is kept beside it. */
export async function takeWear(tool: Tool, value: number, how: string): Promise<string> {
  const index = setupNow()?.tools.findIndex((entry) => entry.number === tool.number) ?? -1;
  if (index < 0) return `T${tool.number} is not there any more.`;
  const wear = value - tool.length;
  const trouble = await takeReading({ quantity: `/tools/${index}/wear`, source: "typed", value: wear, how });
  if (trouble) return trouble;
  return (await changeLength(index, { wear })).map((fault) => fault.what).join(" ");
}
