/** A program of any kind, reviewed on the Proof stage: sent, followed, cancelled, its findings beside it, run again. */
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Finding, Review } from "../api/client";
import { ImportProgram } from "../program/import-program";
import { ReviewFindings, Reviews } from "../stages/proof/reviews/reviews";
import { useReview } from "../stages/proof/reviews/use-review";
import { type Call, opened, play } from "./heron";

const finding: Finding = {
  check: "beyond-travel",
  severity: "stop",
  message: "X would go to 9262.35 mm.",
  line: 3,
  at_seconds: 14.2,
  position: null,
  quantity: null,
  fix: null,
};

const review: Review = {
  id: 4,
  file: "pasted.nc",
  purpose: "job",
  profile: "parametric",
  size: 30,
  here: 30,
  state: "done",
  doing: "",
  share: 0,
  error: "",
  count: 1200,
  seconds: 7300,
  revision: 2,
  author: "technician",
  started: "2026-11-27T08:00:00Z",
  findings: [finding, { ...finding, check: "unit-unstated", severity: "warn", message: "No unit.", line: null }],
  by_line: [[2, 12.4]],
  fixes: [
    {
      check: "unit-unstated",
      message: "No unit.",
      before: "",
      change: { line: 1, goes: 0, lines: ["G21"] },
    },
  ],
  program_values: [{ what: "search feed", unit: "mm/min", program: 500, setup: 300, agrees: false, line: 2 }],
};

function Stage() {
  const of = useReview();
  const [at, setAt] = useState<{ line: number } | null>(null);
  return (
    <MemoryRouter>
      <Reviews of={of} at={at} onAt={setAt} />
      <ReviewFindings review={of.review} at={at} onAt={setAt} />
    </MemoryRouter>
  );
}

let states: Partial<Review>[] = [];
let calls: Call[] = [];

beforeEach(() => {
  opened();
  states = [];
  calls = play({
    "GET /api/profiles": () => [200, []],
    "GET /api/machines/heron/reviews": () => [200, [{ ...review, id: 3, file: "old.nc", count: 1 }]],
    "POST /api/machines/heron/reviews": () => [200, { ...review, state: "sending", here: 0 }],
    "POST /api/machines/heron/reviews/4/pieces": () => [200, { ...review, state: "running" }],
    "POST /api/machines/heron/reviews/4/cancel": () => [200, { ...review, state: "running" }],
    "GET /api/machines/heron/reviews/4": () => [200, { ...review, ...(states.shift() ?? {}) }],
  });
});
afterEach(cleanup);

const TEXT = "G0 X0\nG1 X300 F500\nG1 X9000";

async function pasted(purpose = "job") {
  render(<Stage />);
  fireEvent.change(await screen.findByLabelText("It is"), { target: { value: purpose } });
  fireEvent.click(screen.getByRole("button", { name: "Paste" }));
  fireEvent.change(screen.getByLabelText("Text of the program"), { target: { value: TEXT } });
  fireEvent.click(screen.getByRole("button", { name: "Review it" }));
}

describe("a review", () => {
  it("tells how far it is, and has what was found beside the text, the worst of many", async () => {
    states = [{ state: "running", doing: "Reading", share: 0.4 }];
    await pasted("measure");
    expect((await screen.findByText("pasted.nc: reading.")).getAttribute("role")).toBe("status");
    expect(screen.getByRole("progressbar", { name: "Progress of the review" }).getAttribute("aria-valuenow")).toBe(
      "40",
    );
    expect(await screen.findByText("takes 2 h 1 min")).toBeTruthy();
    const begun = calls.find((call) => call.path === "/api/machines/heron/reviews" && call.method === "POST");
    expect(begun?.body).toEqual({ file: "pasted.nc", purpose: "measure", profile: "", size: TEXT.length });
    const found = screen.getByRole("region", { name: "Findings" });
    expect(found.textContent).toContain("1200");
    expect(found.textContent).toContain("The worst 2 are listed.");
    expect(screen.getByRole("table", { name: "Values that the program uses" }).textContent).toContain("500");
    fireEvent.click(screen.getByRole("button", { name: /line 3/ }));
    expect(found.querySelector("[data-check=beyond-travel]")?.className).toContain("bg-now-wash");
  });

  it("is run again with a fixed line, as what it was for", async () => {
    await pasted();
    fireEvent.click(await screen.findByRole("button", { name: "Apply the fix to line 1" }));
    await waitFor(() => expect(calls.filter((call) => call.path.endsWith("/pieces"))).toHaveLength(2));
    const [, again] = calls.filter((call) => call.path === "/api/machines/heron/reviews" && call.method === "POST");
    expect(again?.body.purpose).toBe("job");
    expect(calls.filter((call) => call.path.endsWith("/pieces"))[1]?.body.text).toBe(`G21\n${TEXT}`);
  });

  it("is cancelled while it runs, and says so", async () => {
    let state: Review["state"] = "running";
    const cancelled = play({
      "GET /api/profiles": () => [200, []],
      "GET /api/machines/heron/reviews": () => [200, []],
      "POST /api/machines/heron/reviews": () => [200, { ...review, state: "sending", here: 0 }],
      "POST /api/machines/heron/reviews/4/pieces": () => [200, { ...review, state: "running" }],
      "POST /api/machines/heron/reviews/4/cancel": () => {
        state = "cancelled";
        return [200, { ...review, state }];
      },
      "GET /api/machines/heron/reviews/4": () => [200, { ...review, state, doing: "Running", share: 0.1 }],
    });
    await pasted();
    await screen.findByText("pasted.nc: running.");
    fireEvent.click(screen.getByRole("button", { name: "Cancel" }));
    expect(await screen.findByText("pasted.nc: cancelled.")).toBeTruthy();
    expect(cancelled.filter((call) => call.path.endsWith("/cancel"))).not.toHaveLength(0);
  });

  it("that failed says why", async () => {
    states = [{ state: "failed", error: "This takes longer than 1800 seconds." }];
    await pasted();
    expect((await screen.findByRole("alert")).textContent).toContain("longer than 1800 seconds");
  });

  it("lists what was reviewed before, with what came of it", async () => {
    render(<Stage />);
    const row = (await screen.findByRole("button", { name: "old.nc" })).closest("tr");
    expect(row?.textContent).toContain("1 finding");
    expect(row?.textContent).toContain("revision 2");
  });

  it("is refused with the server's words", async () => {
    play({
      "GET /api/profiles": () => [200, []],
      "GET /api/machines/heron/reviews": () => [200, []],
      "POST /api/machines/heron/reviews": () => [403, { message: "A viewer reads and changes nothing.", faults: [] }],
    });
    await pasted();
    expect((await screen.findByRole("alert")).textContent).toContain("A viewer reads");
  });
});

describe("a program that is imported", () => {
  it("is refused where it is too long or empty, before anything is sent", async () => {
    const imported: string[] = [];
    render(<ImportProgram label="Open a file" paste most={1} onImport={({ text }) => imported.push(text)} />);
    const file = new File(["G1 X5\n".repeat(200_000)], "long.nc");
    fireEvent.change(screen.getByLabelText("Program to be proven"), { target: { files: [file] } });
    expect((await screen.findByRole("alert")).textContent).toBe("long.nc has 1.1 MB; at most 1 MB are taken here.");
    fireEvent.click(screen.getByRole("button", { name: "Paste" }));
    fireEvent.change(screen.getByLabelText("Text of the program"), { target: { value: "  \n" } });
    fireEvent.click(screen.getByRole("button", { name: "Review it" }));
    expect(screen.getByRole("alert").textContent).toBe("There is no text.");
    expect(imported).toEqual([]);
  });
});
