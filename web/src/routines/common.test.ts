import { expect, test } from "vitest";
import type { Setup } from "../api/client";
import { usual } from "./common";

test("a new routine's search ends before its probe has given all that it can", () => {
  const axis = { least: 0, greatest: 500 };
  const probe = (name: string, across: number, up: number) => ({ name, overtravel_across: across, overtravel_up: up });
  const setup = {
    machine: { axes: { X: axis, Y: axis, Z: axis } },
    probes: [probe("rigid", 1, 0.5), probe("sprung", 8, 4)],
  } as unknown as Setup;
  const beyond = ["rigid", "sprung", null].map((name) => usual(setup, "edge", name).beyond);
  expect(beyond).toEqual([0.25, 4, 4]);
});
