/** What was entered and is not stored yet, for want of a connection or a session: kept in the browser by quantity. */
import type { Kind } from "../api/client";
import type { MachineUnit } from "../quantity/format";
import { useSession } from "../session/session";

/** What is to be added, and what it is to be; the server chooses the rest. */
export interface Adding {
  what: "changer" | "setter" | "probe" | "tool" | "entry" | "touch-input" | "rename";
  body?: {
    kind?: string;
    input?: number | null;
    tool?: number | null;
    where?: string;
    value?: number | string;
    entry?: object;
  };
}

export interface Draft {
  /** the quantity by its key, as `/tools/7/length` */
  key: string;
  /** a value that was understood already */
  value?: unknown;
  /** a list: what it was before, so that what others add meanwhile stays */
  base?: unknown;
  /** something to be added by the server, with numbers that go together */
  adding?: Adding;
  /** or what was typed, with what it is a quantity of */
  text?: string;
  kind?: Kind;
  unit?: MachineUnit;
  /** why it was refused when it was sent */
  refused?: string;
}

export type Drafts = Record<string, Draft>;

/** Where something of a machine is kept in the browser: each user's own, so that nobody sends another's numbers as theirs. */
export const keptAt = (what: "drafts" | "unsaved" | "steps", slug: string) =>
  `orthotrope:${what}:${useSession.getState().session?.user ?? ""}:${slug}`;

export function keptDrafts(slug: string): Drafts {
  try {
    return JSON.parse(localStorage.getItem(keptAt("drafts", slug)) ?? "{}") as Drafts;
  } catch {
    return {};
  }
}

export function keepDrafts(slug: string, drafts: Drafts) {
  if (Object.keys(drafts).length) localStorage.setItem(keptAt("drafts", slug), JSON.stringify(drafts));
  else localStorage.removeItem(keptAt("drafts", slug));
}
