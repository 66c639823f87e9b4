/** Parts of a program text that can be folded: loops, subprograms, and what is jumped to and ends there. Lines are counted from 1. */

export interface Fold {
  /** its head, which stays, and its last line */
  from: number;
  to: number;
  what: "loop" | "subprogram" | "branch";
}

const code = (line: string) => line.replace(/\([^)]*\)|;.*/g, "").trim();

/** A label by itself; in a numbered text other lines begin with N as well. */
const LABEL = /^N\d+$/i;
const ENDS = /\bM\s*(30|0?2|99)\b/i;
/** lines; fewer are not worth folding */
const LEAST = 2;

export function foldsOf(lines: string[]): Fold[] {
  const folds: Fold[] = [];
  const loops: [string, number][] = [];
  let label: number | null = null;
  let sub: number | null = null;
  const add = (from: number, to: number, what: Fold["what"]) => {
    if (to - from >= LEAST) folds.push({ from, to, what });
  };
  lines.forEach((line, index) => {
    const text = code(line);
    const number = index + 1;
    const begins = /\bWHILE\b.*\bDO\s*(\d+)/i.exec(text);
    const ends = /\bEND\s*(\d+)$/i.exec(text);
    if (begins) loops.push([begins[1] ?? "", number]);
    else if (ends) {
      const at = loops.findLastIndex(([name]) => name === ends[1]);
      if (at >= 0) add(loops.splice(at)[0]?.[1] ?? number, number, "loop");
    }
    if (/^O\S+(\s+SUB\b|$)/i.test(text)) sub = number;
    else if (LABEL.test(text)) label = number;
    if (ENDS.test(text)) {
      if (label !== null && !/^IF\b/i.test(text)) add(label, number, "branch");
      label = null;
    }
    if (sub !== null && number > sub && (/\bENDSUB\b/i.test(text) || /\bM\s*99\b/i.test(text))) {
      add(sub, number, "subprogram");
      sub = null;
    }
  });
  return folds.sort((one, other) => one.from - other.from || other.to - one.to);
}
