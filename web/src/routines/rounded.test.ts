import { expect, test } from "vitest";
import { rounded } from "./rounded";

test("a new setter begins with numbers that an inch machine would have", () => {
  const made = {
    kind: "x",
    input: 2,
    margin: 15,
    back_off: 2,
    shape: { form: "round", diameter: 30 },
    work_offset: null,
    first_deg: 30,
    bores: [{ x: 30, y: 20 }],
  };
  expect(rounded(made, "mm")).toBe(made);
  const inch = rounded(made, "inch");
  const inches = [inch.margin, inch.back_off, inch.shape.diameter].map((value) => (value / 25.4).toFixed(6));
  expect(inches).toEqual(["0.590000", "0.079000", "1.200000"]);
  expect(inch).toMatchObject({ kind: "x", input: 2, work_offset: null, shape: { form: "round" }, first_deg: 30 });
  expect(inch.bores.map(({ x, y }) => [(x / 25.4).toFixed(4), (y / 25.4).toFixed(4)])).toEqual([["1.2000", "0.7900"]]);
});
