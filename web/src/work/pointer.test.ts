import { describe, expect, it } from "vitest";
import { read, write } from "./pointer";

const document = { changer: { rack: { pitch: 50 } }, tools: [{ number: 1 }, { number: 2 }] };

describe("JSON pointers", () => {
  it("read and write one value and share the rest", () => {
    const next = write(document, "/tools/1/number", 7);
    expect(read(next, "/tools/1/number")).toBe(7);
    expect(read(document, "/tools/1/number")).toBe(2);
    expect(next.changer).toBe(document.changer);
    expect(next.tools[0]).toBe(document.tools[0]);
  });
  it("read nothing where there is nothing", () => expect(read(document, "/changer/none/at/all")).toBeUndefined());
  it("take ~0 and ~1 for ~ and /", () => expect(read({ "a/b~": 5 }, "/a~1b~0")).toBe(5));
});
