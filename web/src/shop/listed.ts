/** Which machines the shop lists, and in which order. */
import type { ShopEntry } from "../api/client";

export const ORDERS = { name: "by name", changed: "last changed first", open: "least far first" } as const;

export type Order = keyof typeof ORDERS;

const done = (entry: ShopEntry) => Object.values(entry.stages).filter((mark) => mark !== "open").length;

const COMPARE: Record<Order, (one: ShopEntry, other: ShopEntry) => number> = {
  name: (one, other) => one.name.localeCompare(other.name),
  changed: (one, other) => other.changed.localeCompare(one.changed),
  open: (one, other) => done(one) - done(other) || one.name.localeCompare(other.name),
};

/** Those in whose name or description every word is found. */
export function listed(entries: ShopEntry[], search: string, order: Order): ShopEntry[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const said = (entry: ShopEntry) => `${entry.name} ${entry.description}`.toLowerCase();
  return entries.filter((entry) => words.every((word) => said(entry).includes(word))).sort(COMPARE[order]);
}
