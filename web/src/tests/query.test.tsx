import { renderHook, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { queries, useAnswer } from "../api/query";

describe("an answer", () => {
  it("stays on the screen until the next one of the same thing comes, and never stands for another's", async () => {
    queries.clear();
    const never = new Promise<{ data: string }>(() => {});
    const answering = (key: string[]) => (key[2] === "1" ? Promise.resolve({ data: key.join(" ") }) : never);
    const { result, rerender } = renderHook(({ key }) => useAnswer(key, () => answering(key), { keep: 2 }), {
      initialProps: { key: ["proof", "heron", "1"] },
    });
    await waitFor(() => expect(result.current.data).toBe("proof heron 1"));
    rerender({ key: ["proof", "heron", "2"] });
    expect(result.current.data).toBe("proof heron 1");
    rerender({ key: ["proof", "plover", "2"] });
    expect(result.current.data).toBeUndefined();
  });

  it("that is refused is reported once; one that is lost is reported, and asked for again", async () => {
    queries.clear();
    const refused = renderHook(() => useAnswer(["no"], async () => ({ error: { message: "Not now.", faults: [] } })));
    await waitFor(() => expect(refused.result.current.trouble).toBe("Not now."));
    let lost = 0;
    const again = renderHook(() =>
      useAnswer(["lost"], async () => {
        if (lost++ === 0) throw new TypeError("Failed to fetch");
        return { data: "there" };
      }),
    );
    await waitFor(() => expect(again.result.current.trouble).toBe("No connection to the server."));
    await waitFor(() => expect(again.result.current.data).toBe("there"), { timeout: 6000 });
    expect(again.result.current.trouble).toBe("");
  });
});
