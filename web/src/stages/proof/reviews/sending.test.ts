import { afterEach, describe, expect, it, vi } from "vitest";
import { piecesOf, send, textOf } from "./sending";

const answer = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });

afterEach(() => vi.unstubAllGlobals());

describe("a text on its way", () => {
  it("goes in pieces that end within no character and give the text again", () => {
    const text = "G1 X5 (😀😀 lamp é)\n".repeat(7);
    for (const length of [1, 2, 3, 10, 1000]) {
      const pieces = [...piecesOf(text, length)];
      expect(pieces.join("")).toBe(text);
      for (const piece of pieces) expect(new TextDecoder().decode(new TextEncoder().encode(piece))).toBe(piece);
    }
    expect([...piecesOf("")]).toEqual([]);
  });

  it("says its size in bytes, each piece with its place, and how far it is; a refusal ends it", async () => {
    const sent: { at?: number; size?: number }[] = [];
    vi.stubGlobal("fetch", async (request: Request) => {
      const body = await request.json();
      sent.push(body);
      if (sent.length === 3) return answer(422, { message: "No.", faults: [] });
      return answer(200, { id: 4, state: "sending", here: sent.length === 1 ? 0 : new Blob([body.text]).size });
    });
    const reported: number[] = [];
    const wanted = { file: "a.nc", purpose: "job", profile: "", text: "é".repeat(2_000_000) } as const;
    const outcome = await send("heron", wanted, (share) => reported.push(share), new AbortController().signal);
    expect(sent.map(({ at, size }) => at ?? size)).toEqual([4_000_000, 0, 3_000_000]);
    expect(reported).toEqual([0.75]);
    expect(outcome).toBe("No.");
  });

  it("comes back piece by piece, also where one ends within a character", async () => {
    const bytes = new TextEncoder().encode("G1 (é)\n");
    vi.stubGlobal("fetch", async (address: string) => {
      const at = Number(new URL(address, "http://here").searchParams.get("at"));
      return new Response(bytes.slice(at, at + 5));
    });
    expect(await textOf("heron", 4, () => undefined)).toBe("G1 (é)\n");
    vi.stubGlobal("fetch", async () =>
      answer(422, { message: "The text of a.nc is not on the server any more.", faults: [] }),
    );
    await expect(textOf("heron", 4, () => undefined)).rejects.toThrow("not on the server any more");
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("Failed to fetch")));
    await expect(textOf("heron", 4, () => undefined)).rejects.toThrow("server");
  });
});
