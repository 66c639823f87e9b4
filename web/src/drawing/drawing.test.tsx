import { render } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Body, Scene } from "../api/client";
import { extent, PlanBodies, Stored } from "./bodies";
import { apart, project, statedScale } from "./projection";

const box: Body = {
  name: "jig",
  part_of: "",
  x: 100,
  y: 50,
  bottom: -10,
  top: 0,
  half_x: 20,
  half_y: 10,
  cos: 0,
  sin: 1,
  wells: [],
  pocket: null,
  makes: null,
  give: 0,
  travel: 0,
};
const scene: Scene = {
  bodies: [box],
  spindle: [],
  tools: [
    {
      number: 3,
      name: "",
      length: 50,
      stick_out: 30,
      radius: 4,
      parts: [
        { name: "nut", radius: 13, low: -20, high: 9 },
        { name: "T3", radius: 4, low: -50, high: -20 },
      ],
    },
  ],
  magazine: {
    style: "thread-on",
    holds: "nut",
    pockets: [{ pocket: 1, x: 100, y: 50, tool: 3, reserved: false }],
    radius: 13,
    above: 9,
    couple_z: -100,
    shapes: { disc: null },
  },
};
const room = { width: 800, height: 600, margin: { left: 50, top: 20, right: 30, bottom: 10 }, between: 60, beside: 80 };
const to = project({ x: [0, 400], y: [0, 100], z: [-200, 0] }, room);

describe("orthographic views", () => {
  it("share their axes and fit into the room at one scale", () => {
    expect(to.plan.left).toBe(to.front.left);
    expect(to.side.top).toBe(to.front.top);
    expect(to.atX(400) - to.atX(0)).toBeCloseTo(400 * to.scale);
    expect(to.atZ(-200) - to.atZ(0)).toBeCloseTo(200 * to.scale);
    expect(to.atY(0)).toBeCloseTo(to.plan.top + to.plan.height);
    expect(to.side.left + to.side.width).toBeLessThanOrEqual(800 - 30 + 1e-6);
    expect(to.front.top + to.front.height).toBeLessThanOrEqual(600 - 10 + 1e-6);
  });
  it("state their scale", () => {
    expect(statedScale(96 / 25.4)).toBe("1 : 1.0");
    expect(statedScale(96 / 25.4 / 25)).toBe("1 : 25");
  });
  it("move texts apart in their order", () => expect(apart([10, 12, 50], 16)).toEqual([10, 26, 50]));
});

describe("what is drawn", () => {
  it("is a turned box by its corners", () => {
    expect(extent(box, 0)).toEqual([90, 110]);
    expect(extent(box, 1)).toEqual([30, 70]);
    const { container } = render(
      <svg>
        <title>plan</title>
        <PlanBodies scene={scene} to={to} />
      </svg>,
    );
    const points = container.querySelector("polygon")?.getAttribute("points")?.split(" ") ?? [];
    const xs = points.map((point) => Number(point.split(",")[0]));
    expect(Math.min(...xs)).toBeCloseTo(to.atX(90));
    expect(Math.max(...xs)).toBeCloseTo(to.atX(110));
  });
  it("is a stored tool from its nut's top down to its tip, and none where the spindle carries it", () => {
    const draw = (tool: number) =>
      render(
        <svg>
          <title>front</title>
          <Stored scene={scene} pockets={[{ pocket: 1, x: 100, y: 50, tool, reserved: false }]} to={to} view="front" />
        </svg>,
      ).container.querySelectorAll("rect");
    const [tool, nut] = draw(3);
    const bottom = Number(tool?.getAttribute("y")) + Number(tool?.getAttribute("height"));
    expect(bottom).toBeCloseTo(to.atZ(-150));
    expect(Number(nut?.getAttribute("y"))).toBeCloseTo(to.atZ(-91));
    expect(draw(0)).toHaveLength(0);
  });
});
