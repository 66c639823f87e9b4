import { describe, expect, it } from "vitest";
import { duration, fixed, kindOf, shown, unitOf } from "./format";

describe("numbers on the screen", () => {
  it.each([
    [1186, 3, "1\u202f186.000"],
    [-0.0001, 3, "0.000"],
    [-148.2, 1, "−148.2"],
    [1234567, 0, "1\u202f234\u202f567"],
  ])("%f with %i decimals", (value, decimals, text) => expect(fixed(value, decimals)).toBe(text));
  it("says a long time in minutes and hours", () => {
    expect([0.04, 599.4, 600, 3599.6, 348068.5].map(duration)).toEqual([
      "0.0 s",
      "599.4 s",
      "10 min 0 s",
      "1 h 0 min",
      "96 h 41 min",
    ]);
  });
  it("has a fixed number of decimals by unit, and more where an editable number would lose some", () => {
    expect(shown(58.5, "length", "mm")).toBe("58.500");
    expect(shown(58.50001, "length", "mm")).toBe("58.500");
    expect(shown(58.5001, "length", "mm", true)).toBe("58.5001");
    expect(shown(152.684215, "length", "mm", true)).toBe("152.684"); // measured
    expect(shown(25.4, "length", "inch")).toBe("1.0000");
    expect(shown(1450.5, "feed", "mm", true)).toBe("1\u202f450.5");
  });
  it("knows units", () => {
    expect(unitOf("length", "inch")).toBe("in");
    expect(kindOf("rev/min")).toBe("speed");
  });
});
