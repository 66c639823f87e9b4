/** Dates and times in one form: ISO order, the browser's own zone. */
const two = (part: number) => String(part).padStart(2, "0");

/** "2026-11-25 21:41" */
export function when(moment: string): string {
  const at = new Date(moment);
  const day = [at.getFullYear(), two(at.getMonth() + 1), two(at.getDate())].join("-");
  return `${day} ${two(at.getHours())}:${two(at.getMinutes())}`;
}
