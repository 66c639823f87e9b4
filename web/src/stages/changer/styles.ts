/** What the styles of changer have, as far as the interface asks. */
import type { Changer, Heights, PocketChanger, Rack, Reserved, Style } from "../../api/client";

export const STYLES: Record<Style, { name: string; says: string }> = {
  "thread-on": { name: "thread-on rack", says: "Collet nuts in a rack; the turning spindle threads them on and off." },
  "drop-in": {
    name: "drop-in pockets",
    says: "Pockets in a table or plate; the spindle sets its holder down from above.",
  },
  "side-entry": { name: "fork rack", says: "Forks that hold a holder by its groove; entered from the side, oriented." },
  "moving disc": { name: "moving disc", says: "A disc swings to the spindle and turns." },
  "disc with arm": {
    name: "disc with arm",
    says: "A two-handed arm swaps the tool in the spindle with the one in the pot.",
  },
  "by hand": { name: "tools by hand", says: "The spindle goes to a loading place and asks for the tool." },
};

export function rackOf(changer: Changer | null | undefined): Rack | undefined {
  return changer && "rack" in changer ? changer.rack : undefined;
}

export function heightsOf(changer: Changer | null | undefined): Heights | undefined {
  return changer && "heights" in changer ? changer.heights : undefined;
}

export function pocketCount(changer: Changer | null | undefined): number {
  if (!changer) return 0;
  if ("rack" in changer) return changer.rack.count * (changer.rack.rows ?? 1);
  return "disc" in changer ? changer.disc.count : 0;
}

const NONE: Reserved[] = [];

export function reservedOf(changer: Changer | null | undefined): Reserved[] {
  return changer && hasPockets(changer) ? (changer.reserved ?? NONE) : NONE;
}

export function hasPockets(changer: Changer): changer is PocketChanger {
  return "heights" in changer;
}
