import { expect, it } from "vitest";
import { knownOf } from "./known";

const quantity = (name: string) => ({ name, what: "", how: "", usual: "", unit: "" });
const words = {
  keys: { tools: "number" },
  unkeyed: ["axes", "holder"],
  quantities: {
    "tools/*/length": quantity("Length"),
    "holder/*/length": quantity("Holder length"),
    "axes/*/least": quantity("Data sheet from"),
    "measured/least": quantity("Measured from"),
    wear: quantity("Wear"),
  },
};

it("names a quantity by the longest end that fits, whichever entry it is of", () => {
  const name = (pointer: string) => knownOf(pointer, words)?.name ?? null;
  expect(name("/tools/12/length")).toBe("Length");
  expect(name("/tools/12/holder/0/length")).toBe("Holder length");
  expect(name("/tools/12/wear")).toBe("Wear");
  expect([name("/machine/axes/X/least"), name("/machine/axes/X/measured/least")]).toEqual([
    "Data sheet from",
    "Measured from",
  ]);
  expect([name("/tools/12"), name("/tools"), name("")]).toEqual([null, null, null]);
});
