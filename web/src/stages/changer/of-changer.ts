/** What any changer has, as far as the interface asks. */
import type { Changer, Heights, PocketChanger, Rack, Reserved } from "../../api/client";

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
