/** What any changer has, as far as the interface asks. */
import type { Changer, Heights, PocketChanger, Rack, Reserved, Setter, Setup } from "../api/client";

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

type PocketSetter = Extract<Setter, { pocket: number }>;

/** The setters that stand in pockets, each with its place in the Setup. */
export function pocketSetters(setters: Setter[] | undefined): [PocketSetter, number][] {
  return (setters ?? []).flatMap((setter, index) => ("pocket" in setter ? [[setter, index] as const] : [])) as [
    PocketSetter,
    number,
  ][];
}

/** What stands in pockets that no tool can have, by pocket. */
export function standingIn(setup: Setup | null): Map<number, string> {
  return new Map([
    ...reservedOf(setup?.changer).map((entry) => [entry.pocket, entry.what] as const),
    ...pocketSetters(setup?.setters).map(([setter]) => [setter.pocket, setter.name] as const),
  ]);
}

export function hasPockets(changer: Changer): changer is PocketChanger {
  return "heights" in changer;
}
