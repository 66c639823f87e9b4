/** What the tool table shows: the places of the tools that a filter leaves, in the order that was chosen. */
import type { Tool } from "../../api/client";

export type Column = "number" | "name" | "diameter" | "length" | "stick_out" | "shank_above" | "pocket";

export interface Listing {
  /** what is typed into the filter: words that must all be found in number, name, type or pocket */
  filter: string;
  by: Column;
  down: boolean;
}

const SAID = (tool: Tool) =>
  `t${tool.number} ${tool.name} ${tool.type ?? ""} ${tool.pocket ? `pocket ${tool.pocket}` : "no pocket"}`;

export function listed(tools: Tool[], { filter, by, down }: Listing): number[] {
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
  const left = tools.flatMap((tool, index) => {
    const said = SAID(tool).toLowerCase();
    return words.every((word) => said.includes(word)) ? [index] : [];
  });
  const value = (index: number) => tools[index]?.[by] ?? null;
  return left.sort((one, other) => compare(value(one), value(other), down ? -1 : 1) || one - other);
}

/** Numbers by size, texts by the alphabet; what has none comes last, either way. */
function compare(one: string | number | null, other: string | number | null, way: 1 | -1): number {
  if (one === null || other === null) return Number(one === null) - Number(other === null);
  return way * (typeof one === "string" ? one.localeCompare(String(other)) : one - Number(other));
}

/** The rows that are drawn of so many, where each is `row` px high: from and to, with some beyond what is seen. */
export function windowOf(count: number, scrolled: number, height: number, row: number): [number, number] {
  const beyond = 8;
  const first = Math.max(0, Math.floor(scrolled / row) - beyond);
  return [Math.min(first, count), Math.min(count, Math.ceil((scrolled + height) / row) + beyond)];
}
