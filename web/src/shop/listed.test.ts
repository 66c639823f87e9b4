import { expect, it } from "vitest";
import type { ShopEntry } from "../api/client";
import { listed } from "./listed";

const entry = (name: string, description: string, changed: string, open: number) =>
  ({
    name,
    description,
    changed,
    stages: Object.fromEntries([1, 2, 3].map((at) => [at, at <= open ? "open" : "filled"])),
  }) as Partial<ShopEntry> as ShopEntry;

const SHOP = [
  entry("Plover", "machining centre", "2026-11-02", 0),
  entry("Heron", "gantry router", "2026-11-03", 2),
  entry("Curlew", "five-axis mill", "2026-11-01", 2),
];

it("finds machines by words of their name and description, in any order of theirs", () => {
  const names = (search: string, order: Parameters<typeof listed>[2]) =>
    listed(SHOP, search, order).map(({ name }) => name);
  expect(names("", "name")).toEqual(["Curlew", "Heron", "Plover"]);
  expect(names("", "changed")).toEqual(["Heron", "Plover", "Curlew"]);
  expect(names("", "open")).toEqual(["Curlew", "Heron", "Plover"]);
  expect(names(" router GANTRY ", "name")).toEqual(["Heron"]);
  expect(names("lathe", "name")).toEqual([]);
});
