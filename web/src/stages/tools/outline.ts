/** The outline of a cutter below its holder, by its type, from the front: what tells one from another on the drawing. */
import type { Tool } from "../../api/client";

export interface Cutter {
  /** the middle, and half the cutter's width, px */
  x: number;
  half: number;
  /** where the holder ends and where the tip is, px down the sheet */
  top: number;
  tip: number;
  /** px a mm */
  scale: number;
}

type Draw = (cutter: Cutter, tool: Tool) => string;

/** Included point angles where a tool has none of its own, degrees. */
const DRILL = 118;
const SPOT = 90;
const CHAMFER = 45;

const straight: Draw = ({ x, half, top, tip }) => `M${x - half} ${top}V${tip}H${x + half}V${top}Z`;

/** Corners of a radius (px), as far as they fit. */
function rounded({ x, half, top, tip }: Cutter, radius: number): string {
  const r = Math.min(radius, half, tip - top);
  return `M${x - half} ${top}V${tip - r}A${r} ${r} 0 0 0 ${x - half + r} ${tip}H${x + half - r}A${r} ${r} 0 0 0 ${x + half} ${tip - r}V${top}Z`;
}

/** A point: `angle` per side from the axis, degrees; `flat`: half the width that is left at the tip, px. */
function pointed({ x, half, top, tip }: Cutter, angle: number, flat = 0): string {
  const high = Math.min((half - flat) / Math.tan((Math.max(1, angle) * Math.PI) / 180), tip - top);
  return `M${x - half} ${top}V${tip - high}L${x - flat} ${tip}H${x + flat}L${x + half} ${tip - high}V${top}Z`;
}

/** A neck with a disc at its end. */
function necked({ x, half, top, tip, scale }: Cutter, neck: number, thick: number): string {
  const high = Math.min(thick * scale, (tip - top) / 2);
  const n = half * neck;
  return `M${x - n} ${top}V${tip - high}H${x - half}V${tip}H${x + half}V${tip - high}H${x + n}V${top}Z`;
}

/** A stem with a ball. */
function stylus({ x, half, top, tip }: Cutter): string {
  const n = half * 0.4;
  const r = Math.min(half, (tip - top) / 2);
  return `M${x - n} ${top}V${tip - 2 * r}A${r} ${r} 0 1 0 ${x + n} ${tip - 2 * r}V${top}Z`;
}

const BY_TYPE: Record<Tool["type"] & string, Draw> = {
  "flat end mill": straight,
  "ball end mill": (cutter) => rounded(cutter, cutter.half),
  "corner-radius end mill": (cutter, tool) =>
    rounded(cutter, tool.corner_radius != null ? tool.corner_radius * cutter.scale : cutter.half / 3),
  "face mill": (cutter) => necked(cutter, 0.55, 12),
  drill: (cutter, tool) => pointed(cutter, (tool.angle_deg ?? DRILL) / 2),
  "spot drill": (cutter, tool) => pointed(cutter, (tool.angle_deg ?? SPOT) / 2),
  "chamfer mill": (cutter, tool) => pointed(cutter, tool.angle_deg ?? CHAMFER, cutter.half / 5),
  reamer: (cutter) => pointed(cutter, 45, cutter.half * 0.8),
  tap: (cutter) => pointed(cutter, 20, cutter.half * 0.6),
  "boring bar": ({ x, half, top, tip }) => {
    const n = half * 0.6;
    return `M${x - n} ${top}V${tip}H${x + half}V${tip - half * 0.5}H${x + n}V${top}Z`;
  },
  "slot cutter": (cutter) => necked(cutter, 0.4, 4),
  engraver: (cutter) => pointed(cutter, 15, cutter.half / 8),
  "reference tool": straight,
  probe: stylus,
};

export function outlineOf(tool: Tool, cutter: Cutter): string {
  return (BY_TYPE[tool.type ?? "flat end mill"] ?? straight)(cutter, tool);
}
