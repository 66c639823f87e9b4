import { beforeEach, expect, it } from "vitest";
import { addressWith, note, settled } from "./address";

beforeEach(() => window.history.replaceState({ idx: 3 }, "", "/machines/heron/changer?from=2&at=4.5"));

it("changes parts and leaves the others, and what the router keeps", () => {
  expect(addressWith({ to: "9", at: null })).toBe("/machines/heron/changer?from=2&to=9");
  const pages = window.history.length;
  note({ at: "5" }, "same");
  expect([window.location.search, window.history.length, window.history.state]).toEqual([
    "?from=2&at=5",
    pages,
    { idx: 3 },
  ]);
  note({ at: "5" }, "page");
  expect(window.history.length).toBe(pages);
  note({ to: "9" }, "page");
  expect(window.history.length).toBe(pages + 1);
});

it("goes by the one of address and application that has changed", () => {
  const fresh = { asked: undefined, value: null };
  expect(settled(fresh, "link", "usual").act).toBe("apply");
  expect(settled(fresh, null, "usual")).toMatchObject({ act: "write", how: "same" });
  const both = { asked: "a", value: "a" };
  expect(settled(both, "a", "b")).toMatchObject({ act: "write", how: "page" });
  expect(settled(both, "b", "a")).toMatchObject({ act: "apply", known: { asked: "b", value: "b" } });
  expect(settled(both, "a", "a").act).toBe("nothing");
  expect(settled({ asked: "b", value: "b" }, "b", "a").act).toBe("write"); // applied, and then another choice
  expect(settled(both, null, "a")).toMatchObject({ act: "write", how: "same" }); // the way back would lead here again
});
