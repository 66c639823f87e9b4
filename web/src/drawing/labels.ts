/** Texts that may stand elsewhere make way for those that may not: none on another, none cut off, as near as there is room. */

export interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

export type Offset = readonly [dx: number, dy: number];

/** px of free room between two texts */
const AIR = 1.5;

/** How much of a box another one covers, px². */
export function covered(one: Box, other: Box): number {
  const wide = Math.min(one.left + one.width, other.left + other.width) - Math.max(one.left, other.left) + 2 * AIR;
  const high = Math.min(one.top + one.height, other.top + other.height) - Math.max(one.top, other.top);
  return wide > 0 && high > 0 ? wide * high : 0;
}

/** How much of a box is cut off by a frame, px². */
export function cut(box: Box, frame: Box): number {
  const wide = Math.min(box.left + box.width, frame.left + frame.width) - Math.max(box.left, frame.left);
  const high = Math.min(box.top + box.height, frame.top + frame.height) - Math.max(box.top, frame.top);
  return box.width * box.height - Math.max(0, wide) * Math.max(0, high);
}

/** Where a text may stand instead, the nearest first: above, below, at the other sides, then further off. */
function candidates({ width, height }: Box): Offset[] {
  const found: Offset[] = [];
  const sides = [0, 1, -1, 0.5, -0.5, 2, -2].map((times) => times * (width + 8));
  const rows = [0, -1, 1, -2, 2, -3, 3].map((times) => times * (height + 1));
  for (const dy of rows) for (const dx of sides) found.push([dx, dy]);
  return found.sort((one, other) => Math.hypot(...one) - Math.hypot(...other));
}

/** How far each text of `soft` is moved, so that it meets none of `hard`, no other, and stays within the frame; where there is no such
 * place, as little as can be. */
export function arranged(hard: Box[], soft: Box[], frame: Box): Offset[] {
  const taken = [...hard];
  return soft.map((box) => {
    let best: Offset = [0, 0];
    let least = Number.POSITIVE_INFINITY;
    for (const offset of candidates(box)) {
      const there = { ...box, left: box.left + offset[0], top: box.top + offset[1] };
      const bad = taken.reduce((sum, other) => sum + covered(there, other), 0) + 4 * cut(there, frame);
      if (bad < least) [best, least] = [offset, bad];
      if (bad === 0) break;
    }
    taken.push({ ...box, left: box.left + best[0], top: box.top + best[1] });
    return best;
  });
}

/** Let the texts of a drawing that are marked as soft make way for the others, and for what is drawn and marked as firm. */
export function makeWay(svg: SVGSVGElement) {
  const texts = [...svg.querySelectorAll("text")].filter((text) => text.textContent?.trim());
  const softs = texts.filter((text) => "soft" in text.dataset);
  if (!softs.length) return;
  const boxOf = (text: SVGElement): Box => {
    const { left, top, width, height } = text.getBoundingClientRect();
    return {
      left: left - Number(text.getAttribute("dx") ?? 0),
      top: top - Number(text.getAttribute("dy") ?? 0),
      width,
      height,
    };
  };
  const firm = texts.filter((text) => !("soft" in text.dataset));
  const drawn = [...svg.querySelectorAll<SVGGraphicsElement>("[data-firm]")];
  const hard = [...firm.map((text) => groundOf(text) ?? text), ...drawn].map(boxOf);
  const offsets = arranged(hard, softs.map(boxOf), svg.getBoundingClientRect());
  softs.forEach((text, index) => {
    const [dx, dy] = offsets[index] as Offset;
    text.setAttribute("dx", String(dx));
    text.setAttribute("dy", String(dy));
  });
}

/** The ground that a figure stands on: it covers what is below it. */
function groundOf(text: SVGTextElement): SVGRectElement | null {
  return text.parentElement?.querySelector<SVGRectElement>(":scope > rect.ground") ?? null;
}

/** Of a sheet that is seen in part, a text that its edge would cut is not shown. */
export function hideCut(svg: SVGSVGElement, inPart: boolean): void {
  const frame = svg.getBoundingClientRect();
  for (const text of svg.querySelectorAll("text")) {
    const box = text.getBoundingClientRect();
    const within =
      box.left >= frame.left - 1 &&
      box.right <= frame.right + 1 &&
      box.top >= frame.top - 1 &&
      box.bottom <= frame.bottom + 1;
    text.toggleAttribute("data-cut", inPart && !within);
  }
}
