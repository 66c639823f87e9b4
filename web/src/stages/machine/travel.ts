/** Where the travel's lines are on the machine's sheet. */
import type { MachineAnswer, Scene, Setup } from "../../api/client";
import { type Projection, project } from "../../drawing/projection";

export type AxisName = "X" | "Y" | "Z";

/** Plan, front and side view that hold the data sheet's travel and all bodies. */
export function travelViews(setup: Setup, scene: Scene, width: number, height: number): Projection {
  const { X, Y, Z } = setup.machine.axes;
  const lowest = Math.min(Z.least, ...scene.bodies.map((body) => body.bottom));
  return project(
    { x: [X.least, X.greatest], y: [Y.least, Y.greatest], z: [lowest, Z.greatest + 20] },
    {
      width: width || 600,
      height: (height || 600) - 26,
      margin: { left: 92, top: 28, right: 30, bottom: 20 },
      between: 66,
      beside: 60,
    },
  );
}

export interface Rectangle {
  x: number;
  y: number;
  width: number;
  height: number;
}

const between = (left: number, top: number, right: number, bottom: number): Rectangle => ({
  x: left,
  y: top,
  width: right - left,
  height: bottom - top,
});

/** The soft limits in each view, px. */
export function softLimits(
  setup: Setup,
  machine: MachineAnswer,
  to: Projection,
): Record<"plan" | "front" | "side", Rectangle> {
  const { axes } = setup.machine;
  const ends = (axis: AxisName) => {
    const known = machine.axes[axis];
    return [known?.soft_least ?? axes[axis].least, known?.soft_greatest ?? axes[axis].greatest] as const;
  };
  const [x, y, z] = [ends("X"), ends("Y"), ends("Z")];
  return {
    plan: between(to.atX(x[0]), to.atY(y[1]), to.atX(x[1]), to.atY(y[0])),
    front: between(to.atX(x[0]), to.atZ(z[1]), to.atX(x[1]), to.atZ(z[0])),
    side: between(to.atS(y[0]), to.atZ(z[1]), to.atS(y[1]), to.atZ(z[0])),
  };
}
