const NO_LENGTHS = new Set(["input", "pocket", "touches", "work_offset", "turning_speed", "latency", "polling"]);
const MM_PER_INCH = 25.4;

/** A template's lengths and feeds to two digits of an inch, on a machine that shows inches: 15 mm is 0.59 in. */
export function rounded<Made extends object>(made: Made, unit: "mm" | "inch"): Made {
  if (unit === "mm") return made;
  const round = (value: unknown): unknown => {
    if (typeof value === "number") return Number((value / MM_PER_INCH).toPrecision(2)) * MM_PER_INCH;
    if (Array.isArray(value)) return value.map(round);
    if (value === null || typeof value !== "object") return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, part]) => [
        key,
        NO_LENGTHS.has(key) || key.endsWith("_deg") ? part : round(part),
      ]),
    );
  };
  return round(made) as Made;
}
