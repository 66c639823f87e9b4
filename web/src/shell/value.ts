/** A stored value in words, for lists of changes. */
import { fixed } from "../quantity/format";

export function said(value: unknown): string {
  if (value === null || value === undefined) return "nothing";
  if (typeof value === "number") return fixed(value, Number.isInteger(value) ? 0 : 3);
  if (typeof value === "string") return value || "empty";
  if (typeof value === "object") {
    const entry = value as { name?: string; number?: number; style?: string };
    return (
      entry.style ??
      [entry.number !== undefined ? `T${entry.number}` : "", entry.name ?? ""].filter(Boolean).join(" ") ??
      "an entry"
    );
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
