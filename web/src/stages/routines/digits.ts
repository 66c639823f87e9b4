/** How what a routine finds is written. */
import { shown } from "../../quantity/format";

const NAMES: Record<string, string> = { turn: "turn", size_x: "size X", size_y: "size Y" };
export const named = (name: string) => NAMES[name] ?? (name.length === 1 ? name.toUpperCase() : name);

/** `of`: "°", or a length. */
export const digits = (value: number, of: string, unit: "mm" | "inch") =>
  of === "°" ? value.toFixed(4).replace("-", "−") : shown(value, "length", unit);

export const signed = (value: number, of: string, unit: "mm" | "inch") =>
  `${value < 0 ? "−" : "+"}${digits(Math.abs(value), of, unit)}`;
