import { expect, test } from "vitest";
import { rounded } from "./common";

test("a new setter begins with numbers that an inch machine would have", () => {
  const made = {
    kind: "x",
    input: 2,
    margin: 15,
    back_off: 2,
    shape: { form: "round", diameter: 30 },
    work_offset: null,
  };
  expect(rounded(made, "mm")).toBe(made);
  const inch = rounded(made, "inch");
  const inches = [inch.margin, inch.back_off, inch.shape.diameter].map((value) => (value / 25.4).toFixed(6));
  expect(inches).toEqual(["0.590000", "0.079000", "1.200000"]);
  expect(inch).toMatchObject({ kind: "x", input: 2, work_offset: null, shape: { form: "round" } });
});
