/** A stored value in words, for lists of changes. */

import { fixed, kindOf, type MachineUnit, shown, unitOf } from "../quantity/format";
import { known, ownerOf } from "./known";
import { parts } from "./pointer";

/** `unit`: the core's unit of the value, "" where it has none; numbers are shown in the machine's. */
export function said(value: unknown, unit = "", machine: MachineUnit = "mm"): string {
  if (value === null || value === undefined) return "nothing";
  if (typeof value === "number") {
    if (unit) return `${shown(value, kindOf(unit), machine, true)} ${unitOf(kindOf(unit), machine)}`;
    return fixed(value, Number.isInteger(value) ? 0 : 3);
  }
  if (typeof value === "string") return value || "empty";
  if (Array.isArray(value)) return `${value.length} ${value.length === 1 ? "entry" : "entries"}`;
  if (typeof value === "object") {
    const entry = value as { where?: string; name?: string; number?: number; style?: string };
    if (entry.where !== undefined) return "not entered yet";
    const named = [entry.number !== undefined ? `T${entry.number}` : "", entry.name ?? ""].filter(Boolean).join(" ");
    return entry.style ?? (named || "an entry");
  }
  return String(value);
}

/** Where a value stands, as it is called on the screen: "T3 length", "Pitch", "X rapid". */
export function place(pointer: string): string {
  const [, planned] = pointer.startsWith("/planned/") ? parts(pointer) : [];
  if (planned) return `${place(planned)}, mark`;
  if (pointer.startsWith("+")) return `new ${pointer.slice(1).replace(/ \d+$/, "").replaceAll("-", " ")}`;
  const found = known(pointer);
  const [section = "", ...rest] = parts(pointer).map((part) => part.replaceAll("_", " "));
  if (found) {
    const owner = ownerOf(pointer);
    return owner ? `${owner} ${found.name.charAt(0).toLowerCase()}${found.name.slice(1)}` : found.name;
  }
  const owner = ownerOf(pointer);
  const last = rest.at(-1) ?? section;
  if (owner) return last === owner || `T${last}` === owner ? owner : `${owner} ${last}`;
  return rest.length ? `${section}: ${last}` : section;
}

/** The core's unit of a value, by its pointer; "" where it has none. */
export const unitAt = (pointer: string): string => known(pointer)?.unit ?? "";
