/** A stored value in words, for lists of changes. */
import { fixed, kindOf, type MachineUnit, shown, unitOf } from "../quantity/format";

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
    const entry = value as { name?: string; number?: number; style?: string };
    const named = [entry.number !== undefined ? `T${entry.number}` : "", entry.name ?? ""].filter(Boolean).join(" ");
    return entry.style ?? (named || "an entry");
  }
  return String(value);
}

export function place(pointer: string): string {
  const [section = "", ...rest] = pointer
    .split("/")
    .slice(1)
    .map((part) => part.replaceAll("_", " "));
  if (section === "tools") return [`T${rest[0] ?? ""}`, ...rest.slice(1)].join(" ");
  return [section, ...rest].join(" › ");
}
