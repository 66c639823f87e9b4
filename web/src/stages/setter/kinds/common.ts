/** Numbers that a new setter begins with, from the middle of the usual ranges. */
export const USUAL = {
  overtravel: 4,
  trigger_travel: 0,
  search_feed: 300,
  measure_feed: 60,
  margin: 15,
  back_off: 2,
  touches: 2,
  spread: 0.02,
  repeatability: 0.01,
  latency: 0,
  polling: 0,
  plane_feed: null,
  touched_from: "above" as const,
  turning_speed: 300,
  work_offset: null,
};

const NO_LENGTHS = new Set(["input", "pocket", "touches", "work_offset", "turning_speed", "latency", "polling"]);
const MM_PER_INCH = 25.4;

/** A template's lengths and feeds to two digits of an inch, on a machine that shows inches: 15 mm is 0.59 in. */
export function rounded<Made extends object>(made: Made, unit: "mm" | "inch"): Made {
  if (unit === "mm") return made;
  const round = (value: unknown): unknown => {
    if (typeof value === "number") return Number((value / MM_PER_INCH).toPrecision(2)) * MM_PER_INCH;
    if (value === null || typeof value !== "object") return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, part]) => [key, NO_LENGTHS.has(key) ? part : round(part)]),
    );
  };
  return round(made) as Made;
}
