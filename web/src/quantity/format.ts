/** How numbers stand on the screen: a fixed number of decimals by unit, thin spaces between thousands, a true minus. */
import type { Kind } from "../api/client";

const DECIMALS: Record<Kind, number> = {
  length: 3,
  feed: 0,
  angle: 2,
  speed: 0,
  "surface speed": 1,
  time: 2,
  acceleration: 0,
  count: 0,
};
const INCH_DECIMALS: Partial<Record<Kind, number>> = { length: 4, feed: 1, acceleration: 1 };
const UNITS: Record<Kind, string> = {
  length: "mm",
  feed: "mm/min",
  angle: "°",
  speed: "rev/min",
  "surface speed": "m/min",
  time: "s",
  acceleration: "mm/s²",
  count: "",
};
const INCH_UNITS: Partial<Record<Kind, string>> = {
  length: "in",
  feed: "in/min",
  "surface speed": "ft/min",
  acceleration: "in/s²",
};

export type MachineUnit = "mm" | "inch";

const MM_PER_INCH = 25.4;
const METRES_PER_FOOT = 0.3048;

export function unitOf(kind: Kind, unit: MachineUnit): string {
  return (unit === "inch" && INCH_UNITS[kind]) || UNITS[kind];
}

export function kindOf(unit: string): Kind {
  return (Object.entries(UNITS).find(([, name]) => name === unit)?.[0] as Kind | undefined) ?? "count";
}

export function fixed(value: number, decimals: number): string {
  const [whole = "0", rest] = Math.abs(value).toFixed(decimals).split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, "\u202f");
  const text = rest ? `${grouped}.${rest}` : grouped;
  return value < 0 && /[1-9]/.test(text) ? `−${text}` : text;
}

/** Decimals that people type, in mm and in inches; a number that has more was measured, and its digits beyond the usual ones say nothing. */
const MOST_TYPED = { mm: 4, inch: 5 };

/**
 * A value of the core (mm, mm/min, …) as the machine's unit shows it. `exact`: with more decimals where fewer would hide
 * some, for a number that can be edited; "short": about how much it is.
 */
export function shown(value: number, kind: Kind, unit: MachineUnit, exact: boolean | "short" = false): string {
  const inch = unit === "inch" && INCH_UNITS[kind] !== undefined;
  const number = inch ? value / (kind === "surface speed" ? METRES_PER_FOOT : MM_PER_INCH) : value;
  if (exact === "short") return fixed(number, inch ? 1 : 0);
  let decimals = (inch && INCH_DECIMALS[kind]) || DECIMALS[kind];
  const hides = () => Math.abs(number - Number(number.toFixed(decimals))) > 1e-9 * Math.max(1, Math.abs(number));
  const usual = exact && kind === "angle" ? 4 : decimals;
  while (exact && decimals < MOST_TYPED[unit] && hides()) decimals++;
  return fixed(number, hides() ? usual : decimals);
}

/** A text with its numbers as another program reads them. */
export function asciiDigits(text: string): string {
  return text.replace(/(?<=\d)[\u202f\u2009](?=\d)/g, "").replace(/\u2212(?=[\d.])/g, "-");
}

/** A time that can be long: "12.3 s", "23 min 10 s", "5 h 40 min". */
export function duration(seconds: number): string {
  const whole = Math.round(seconds);
  if (whole < 600) return `${fixed(seconds, 1)} s`;
  if (whole < 3600) return `${Math.floor(whole / 60)} min ${whole % 60} s`;
  return `${Math.floor(whole / 3600)} h ${Math.floor((whole % 3600) / 60)} min`;
}

/** A work offset by its number and its word: "work offset 1 (G54)". */
export function workOffset(number: number): string {
  return `work offset ${number} (${number <= 6 ? `G${53 + number}` : `G59.${number - 6}`})`;
}
