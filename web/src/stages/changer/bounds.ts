/** Which part of the machine the changer's sheet shows. */
import type { Derived, Scene, Setup } from "../../api/client";
import { viewOf } from "../../changers";
import { extent } from "../../drawing/bodies";
import type { Bounds } from "../../drawing/projection";
import type { Place } from "../../trace/evaluate";

/** mm of the sheet above the top of travel, for the spindle */
const ABOVE = 46;

/** The region of the sheet: the changer and what hangs in it; tools by hand have the loading place and what is near. */
export function boundsOf(setup: Setup, derived: Derived, scene: Scene): Bounds {
  const { changer } = setup;
  const rack = scene.bodies.filter((body) => body.part_of === "changer");
  const xs = rack.flatMap((body) => extent(body, 0));
  const ys = rack.flatMap((body) => extent(body, 1));
  const disc = scene.magazine?.shapes.disc;
  if (disc) {
    const reach = disc.rim;
    for (const place of [disc.home, disc.out]) {
      xs.push((place[0] as number) - reach, (place[0] as number) + reach);
      ys.push((place[1] as number) - reach, (place[1] as number) + reach);
    }
    xs.push((disc.exchange[0] as number) + 90);
    if (disc.arm) {
      const across = disc.arm.reach + disc.arm.hand.radius;
      const [wx, wy] = disc.way as [number, number];
      const [px, py] = disc.arm.pivot as [number, number];
      xs.push(px - across * Math.abs(wy), px + across * Math.abs(wy));
      ys.push(py - across * Math.abs(wx), py + across * Math.abs(wx));
    }
  }
  const own = changer && viewOf(changer)?.extent?.(changer, derived);
  xs.push(...(own?.x ?? []));
  ys.push(...(own?.y ?? []));
  const z = setup.machine.axes.Z;
  const bottom = Math.min(
    derived.rack_top_z - 20,
    ...(own?.z ?? []),
    ...rack.map((body) => body.bottom),
    ...lowestTips(derived, scene),
  );
  return {
    x: [Math.min(...xs) - 30, Math.max(...xs) + 30],
    y: [Math.min(...ys) - 26, Math.max(...ys) + 26],
    z: [bottom - 8, Math.max(z.greatest, derived.park_z) + ABOVE],
  };
}

function lowestTips(derived: Derived, scene: Scene): number[] {
  const numbers = scene.magazine?.pockets.map((pocket) => pocket.tool) ?? scene.tools.map((tool) => tool.number);
  const stored = numbers.map((number) => scene.tools.find((tool) => tool.number === number));
  return stored.map((tool) => (tool ? derived.ladder.couple_z - tool.length : derived.ladder.couple_z));
}

/** The scene without bodies that are elsewhere on the machine; the key plan has them. */
export function within(scene: Scene, bounds: Bounds): Scene {
  const near = (body: Scene["bodies"][number]) => {
    const [bx, by] = [extent(body, 0), extent(body, 1)];
    return bx[1] > bounds.x[0] && bx[0] < bounds.x[1] && by[1] > bounds.y[0] && by[0] < bounds.y[1];
  };
  return { ...scene, bodies: scene.bodies.filter(near) };
}

/** Whether a place is in the region, seen from above. */
export function isIn({ x, y }: Bounds, [px, py]: Place): boolean {
  return px >= x[0] && px <= x[1] && py >= y[0] && py <= y[1];
}
