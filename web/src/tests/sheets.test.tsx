import { act, cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Answer, Proof, Setup, Tool } from "../api/client";
import { heightsOf } from "../changers/of-changer";
import { FindingsPanel } from "../findings/findings";
import { ProgramView } from "../program/program-view";
import { Score } from "../score/score";
import { pocketsAt } from "../stages/changer/moment";
import { ChangerSheet } from "../stages/changer/sheet";
import MachineStage from "../stages/machine/machine";
import { exchangeOf } from "../stages/proof/naming";
import ProofStage from "../stages/proof/proof";
import ToolsStage from "../stages/tools/tools";
import { chooseExchange } from "../work/choosing";
import { useDocument } from "../work/document";
import { goTo, seek, usePlayback } from "../work/playback";
import { useSelection } from "../work/selection";
import { clean, contact, heron, machine, ofMachine, opened, others, play, rackNow, sized } from "./heron";

beforeEach(() => {
  localStorage.clear();
  sized();
  opened();
  Element.prototype.scrollIntoView = () => {};
});
afterEach(cleanup);

const to = exchangeOf;
const numbers = (selector: string, attribute: string) =>
  [...document.querySelectorAll(selector)].map((node) => Number(node.getAttribute(attribute)));

/** The words of a line, without its remark. */
const words = (text: string, line: number) => (text.split("\n")[line - 1] ?? "").replace(/\s*\(.*/, "");

describe("the sheet of the changer", () => {
  it("draws ten pockets at one pitch, numbered, with what is in each", () => {
    render(<ChangerSheet />);
    const pockets = screen.getAllByRole("button", { name: /^Pocket \d+, / });
    expect(pockets.map((pocket) => pocket.getAttribute("aria-label"))).toEqual([
      ...[1, 2, 3, 4, 5, 6].map((pocket) => `Pocket ${pocket}, T${pocket}`),
      "Pocket 7, reserved",
      "Pocket 8, T8",
      "Pocket 9, T9",
      "Pocket 10, empty",
    ]);
    const places = pockets.map((pocket) => Number(pocket.querySelector("circle")?.getAttribute("cx")));
    const steps = places.slice(1).map((place, index) => place - (places[index] as number));
    for (const step of steps) expect(step).toBeCloseTo(steps[0] as number, 6);
    const stated = document.querySelector("[data-scale]")?.textContent?.match(/1 : ([\d.]+)/)?.[1];
    expect(58.5 / ((steps[0] as number) * (25.4 / 96))).toBeCloseTo(Number(stated), 0);
  });

  it("has the rungs of the ladder in the order of their heights", () => {
    render(<ChangerSheet />);
    const texts = [...document.querySelectorAll("text")].map((node) => node.textContent ?? "");
    for (const rung of ["park −1.000", "carry −42.600", "empty −116.200", "hover −130.850", "couple −144.350"])
      expect(texts).toContain(rung);
  });

  it("has dimensions that can be edited where they stand, marked in the drawing as in the schedule", async () => {
    const calls = play({
      "POST /api/quantity": () => [200, { value: 59, unit: "mm", what: "", column: 0 }],
      "POST /api/preview": () => [200, clean],
      "PUT /api/machines/heron": (body) => [200, { ...machine, document: body.document }],
    });
    render(<ChangerSheet />);
    const pitch = screen.getByRole("button", { name: "Pitch, 58.500, edit" });
    act(() => pitch.focus());
    expect(pitch.getAttribute("class")).toContain("focused");
    fireEvent.keyDown(pitch, { key: "Enter" });
    const field = screen.getByLabelText("Pitch") as HTMLInputElement;
    fireEvent.change(field, { target: { value: "59" } });
    fireEvent.keyDown(field, { key: "Enter" });
    await waitFor(() => expect(rackNow()?.pitch).toBe(59));
    expect(calls.some((call) => call.method === "PUT")).toBe(true);
    for (const name of [
      /^Margin/,
      /^Stored top/,
      /^Hover gap/,
      /^Nose on spacer/,
      /^Pocket depth/,
      /^Datum X/,
      /^Datum Y/,
      /^Bearing/,
    ])
      expect(screen.getByRole("button", { name })).toBeTruthy();
  });

  it("moves the spindle with the line of time, and what it carries with it", () => {
    render(<ChangerSheet />);
    const tells = () => document.querySelector("[data-now]")?.textContent;
    expect(tells()).toBe("spindle now X 410.000 Y 620.000 Z −60.500");
    const carries = () => [...document.querySelectorAll("text")].some((node) => node.textContent === "T2");
    expect(carries()).toBe(true);
    act(() => seek(13.8));
    expect(tells()).toContain("X 186.900 Y 1\u202f187.500");
    expect(carries()).toBe(false);
    act(() => seek(1e9));
    expect([...document.querySelectorAll("text")].some((node) => node.textContent === "T9")).toBe(true);
  });

  it("marks the place of a contact", () => {
    opened(contact);
    render(<ChangerSheet />);
    expect(document.querySelectorAll("circle[stroke='var(--stop)']")).toHaveLength(0);
    const found = contact.exchange?.findings.find((entry) => entry.check === "body-contact");
    act(() => found && goTo(found));
    expect(document.querySelectorAll("circle[stroke='var(--stop)']")).toHaveLength(1);
  });

  it("draws a rack that is turned, and one of one pocket", () => {
    const scene = clean.scene as NonNullable<Answer["scene"]>;
    const rack = scene.magazine as NonNullable<typeof scene.magazine>;
    const derived = clean.derived as NonNullable<Answer["derived"]>;
    const upright = derived.pockets.map((pocket) => ({ ...pocket, x: 700, y: 300 + 58.5 * (pocket.pocket - 1) }));
    const turned = { ...rack, pockets: rack.pockets.map((pocket, index) => ({ ...pocket, ...upright[index] })) };
    const bodies = scene.bodies.map((body) => ("half_x" in body ? { ...body, x: 700, y: 560, cos: 0, sin: 1 } : body));
    opened({ ...clean, derived: { ...derived, pockets: upright }, scene: { ...scene, magazine: turned, bodies } });
    render(<ChangerSheet />);
    const [across, deep] = [
      numbers("[role=button] > circle:nth-child(2)", "cx"),
      numbers("[role=button] > circle:nth-child(2)", "cy"),
    ];
    expect(across.length).toBe(upright.length);
    expect(Math.max(...across) - Math.min(...across)).toBeLessThan(1e-6); // they stand in a row along Y
    expect(new Set(deep.map((at) => at.toFixed(3))).size).toBe(upright.length);
    expect(screen.getByRole("button", { name: /^Pitch/ })).toBeTruthy();
    cleanup();
    const single = { ...derived, pockets: derived.pockets.slice(0, 1) };
    opened({
      ...clean,
      derived: single,
      scene: { ...scene, magazine: { ...rack, pockets: rack.pockets.slice(0, 1) } },
    });
    render(<ChangerSheet />);
    expect(screen.queryByRole("button", { name: /^Pitch/ })).toBeNull();
  });
});

describe("the score and the text", () => {
  it("has a lane for each axis, the spindle, and the tool with its doubtful stretches", () => {
    render(<Score />);
    for (const lane of ["X", "Y", "Z", "Spindle", "Tool", "T2", "empty", "T9"])
      expect(screen.getByText(lane)).toBeTruthy();
    expect(document.querySelectorAll("rect[fill='url(#doubt)']")).toHaveLength(3);
    expect(screen.getByText(/^back 1.160$/)).toBeTruthy();
    const widths = numbers("[data-score] rect[height='16']", "width");
    expect(widths.reduce((sum, width) => sum + width, 0)).toBeCloseTo(720 - 150 - 16, 3);
  });

  it("steps by its buttons and says what to do where there is nothing to play", () => {
    render(<Score />);
    fireEvent.click(screen.getByRole("button", { name: "Next block" }));
    expect(usePlayback.getState().block).toBe(1);
    fireEvent.click(screen.getByRole("button", { name: "Play" }));
    expect(usePlayback.getState().playing).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "Pause" }));
    cleanup();
    opened({ ...clean, exchange: null });
    render(<Score />);
    expect(screen.getByText(/Choose an exchange/)).toBeTruthy();
  });

  it("marks the line of the moment, and what is said of a line below it", async () => {
    opened(contact);
    render(<ProgramView />);
    const last = contact.exchange?.trace?.blocks.at(-1)?.line ?? 0;
    const text = contact.exchange?.texts.find((entry) => entry.profile === contact.exchange?.shown)?.text ?? "";
    act(() => seek(1e9));
    await waitFor(() => expect(document.querySelector(".cm-now")?.textContent).toContain(words(text, last)));
    const reported = contact.exchange?.findings.find((entry) => entry.check === "body-contact");
    const below = document.querySelector(".cm-reported button[data-check='body-contact']") as Element;
    expect(below.textContent).toBe(reported?.message);
    fireEvent.click(below);
    expect(usePlayback.getState().chosen?.line).toBe(reported?.line);
  });

  it("asks for the other profile's text", async () => {
    const calls = play({ "POST /api/preview": () => [200, clean] });
    render(<ProgramView />);
    fireEvent.click(screen.getByRole("button", { name: "Plain words" }));
    await waitFor(() => expect(calls[0]?.body.profile).toBe("plain words"));
  });
});

describe("findings", () => {
  it("say what and where, and a fix is one action", async () => {
    const calls = play({
      "POST /api/preview": () => [200, clean],
      "PUT /api/machines/heron": (body) => [200, { ...machine, document: body.document }],
    });
    opened(contact);
    const low = {
      ...heron,
      changer: heron.changer && { ...heron.changer, heights: { ...heron.changer.heights, stored_top_z: -140 } },
    };
    useDocument.setState({ document: low, base: low });
    render(<FindingsPanel findings={contact.exchange?.findings ?? []} />);
    const item = document.querySelector("li[data-check=body-contact]") as HTMLElement;
    expect(item.textContent).toContain("The spindle nose meets the setter in pocket 7");
    fireEvent.click(within(item).getByRole("button", { name: /line \d+/ }));
    expect(usePlayback.getState().chosen?.check).toBe("body-contact");
    fireEvent.click(within(item).getByRole("button", { name: "Set the stored top to −124.2" }));
    await waitFor(() => expect(heightsOf(useDocument.getState().document?.changer)?.stored_top_z).toBe(-124.2));
    expect(calls.length).toBeGreaterThan(0);
  });

  it("offer no fix to a viewer, and say so where there are none", () => {
    opened(contact, "viewer");
    const { rerender } = render(<FindingsPanel findings={contact.exchange?.findings ?? []} />);
    expect(screen.queryByRole("button", { name: /^Set/ })).toBeNull();
    rerender(<FindingsPanel findings={[]} />);
    expect(screen.getByText("No findings.")).toBeTruthy();
  });
});

describe("machine and tools", () => {
  it("shows the axes side by side and the travel as dimensions", () => {
    play({ "GET /api/profiles": () => [200, []], "POST /api/offers": () => [200, { targets: {} }] });
    opened(ofMachine);
    render(<MachineStage />);
    expect((screen.getByLabelText("X data sheet to") as HTMLInputElement).value).toBe("820.000");
    expect((screen.getByLabelText("Z rapid") as HTMLInputElement).value).toBe("4\u202f500");
    expect((screen.getByLabelText("Y home") as HTMLSelectElement).value).toBe("greatest");
    expect(screen.getByRole("button", { name: /^Y travel to, 1.240.000, edit/ })).toBeTruthy();
  });

  it("adds and removes tools, and tells pockets that are taken", async () => {
    const added = { ...heron.tools[0], number: 10, pocket: null } as Tool;
    play({
      "POST /api/adding/tool": (body) => {
        const document = body.document as Setup;
        return [200, { document: { ...document, tools: [...document.tools, added] }, name: "T10", says: [] }];
      },
      "POST /api/preview": () => [200, clean],
      "PUT /api/machines/heron": (body) => [200, { ...machine, document: body.document }],
    });
    render(<ToolsStage />);
    const choices = within(screen.getByLabelText("T1 pocket")).getAllByRole("option");
    expect(choices.map((choice) => choice.textContent)).toContain("7 (setter)");
    expect(choices.map((choice) => choice.textContent)).toContain("2 (T2)");
    fireEvent.click(screen.getByRole("button", { name: "Add a tool" }));
    await waitFor(() => expect(useDocument.getState().document?.tools.at(-1)?.number).toBe(10));
    fireEvent.click(screen.getByRole("button", { name: "Remove T3" }));
    await waitFor(() => expect(useDocument.getState().document?.tools.map((tool) => tool.number)).not.toContain(3));
  });
});

describe("the matrix", () => {
  const finding = contact.exchange?.findings.find((entry) => entry.check === "body-contact");
  const proof = (part: Partial<Proof>): Proof => ({
    id: 4,
    state: "done",
    done: 2,
    total: 2,
    stop: 1,
    warn: 0,
    revision: 1,
    author: "supervisor",
    started: "2026-11-25T08:00:00Z",
    error: "",
    stale: false,
    stale_sequences: 0,
    changes: [],
    changed_by: "",
    changed_at: null,
    place: 0,
    file: "",
    imported: "",
    causes: finding ? [{ finding, sequences: [to(2, 9)] }] : [],
    sequences: [
      {
        sequence: to(2, 9),
        worst: "stop",
        seconds: 12,
        findings: finding ? [finding] : [],
        stale: false,
        closest: null,
      },
      { sequence: to(9, 2), worst: "note", seconds: 13, findings: [], stale: false, closest: null },
    ],
    cases: 0,
    unsafe: 0,
    undetectable: 0,
    faults: [],
    times: [],
    ...part,
  });
  const show = (part: Partial<Proof> | null) => {
    const calls = play({
      "GET /api/machines/heron/proofs/latest": () => [200, part && proof(part)],
      "GET /api/machines/heron": () => [200, machine],
      "POST /api/machines/heron/proofs": () => [200, proof({ state: "running", done: 0, sequences: [], causes: [] })],
      "POST /api/machines/heron/proofs/4/cancel": () => [200, proof({ state: "cancelled" })],
      "POST /api/preview": () => [200, contact],
    });
    render(
      <MemoryRouter>
        <ProofStage />
      </MemoryRouter>,
    );
    return calls;
  };

  it("shows each pair by shape, and opens one at its finding", async () => {
    show({});
    const cell = await screen.findByRole("button", { name: /^T2 to T9, stop: The spindle nose/ });
    expect(cell.dataset.worst).toBe("stop");
    expect(screen.getByRole("button", { name: "T9 to T2, OK" }).dataset.worst).toBe("none");
    expect(screen.getByText(/1 sequence, first T2 to T9/)).toBeTruthy();
    fireEvent.focus(cell);
    expect(screen.getAllByText(/meets the setter/).length).toBeGreaterThan(1);
    fireEvent.click(cell);
    await waitFor(() => expect(usePlayback.getState().chosen?.check).toBe("body-contact"));
  });

  it("plays one's own program or nothing, never the written one in its place", async () => {
    window.history.replaceState(null, "", "/machines/heron/proof?list=own");
    let whole: [number, unknown] = [503, { message: "The server is starting." }];
    const own = proof({ file: "own.nc" }); // as it is sent while it runs: without the text
    let asked = 0;
    const calls = play({
      "GET /api/machines/heron/proofs/latest": () => (asked++ ? whole : [200, own]),
      "GET /api/machines/heron": () => [200, machine],
      "POST /api/preview": () => [200, contact],
    });
    render(
      <MemoryRouter>
        <ProofStage />
      </MemoryRouter>,
    );
    fireEvent.click(await screen.findByRole("button", { name: /^T2 to T9, stop/ }));
    expect(await screen.findByText(/can't be played now. The server is starting/)).toBeTruthy();
    expect(calls.some((call) => call.path === "/api/preview")).toBe(false);
    whole = [200, { ...own, imported: "G0 X1" }];
    fireEvent.click(screen.getByRole("button", { name: /^T2 to T9, stop/ }));
    await waitFor(() =>
      expect(calls.find((call) => call.path === "/api/preview")?.body).toMatchObject({ program: "G0 X1" }),
    );
    window.history.replaceState(null, "", "/");
  });

  it("says what made it stale", async () => {
    const changes = [{ where: "/changer/rack/pitch", before: 58.5, after: 58.6, unit: "mm" }];
    show({ stale: true, changes, changed_by: "technician", changed_at: "2026-11-25T08:00:00Z" });
    expect(await screen.findByText(/Pitch was 58.500 mm, is now 58.600 mm/)).toBeTruthy();
    expect(screen.getByRole("button", { name: "Run the proof" })).toBeTruthy();
  });

  it("runs, shows progress, and can be stopped", async () => {
    const calls = show(null);
    await waitFor(() =>
      expect(screen.getByRole("button", { name: "Run the proof" }).hasAttribute("disabled")).toBe(false),
    );
    expect(screen.getByText("Not run yet.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Run the proof" }));
    await waitFor(() =>
      expect(calls.some((call) => call.path.endsWith("/proofs") && call.method === "POST")).toBe(true),
    );
    cleanup();
    const again = show({ state: "running", done: 1 });
    expect(await screen.findByText("1 of 2 sequences")).toBeTruthy();
    expect(screen.getByRole("progressbar").getAttribute("aria-valuenow")).toBe("50");
    fireEvent.click(screen.getByRole("button", { name: "Stop" }));
    await waitFor(() => expect(again.some((call) => call.path.endsWith("/cancel"))).toBe(true));
  });

  it("has routines in rows of their own, as they should go and under a fault, and opens them", async () => {
    const routine = { kind: "routine" as const, name: "frame corner" };
    const pairs = [
      { sequence: to(2, 9), worst: null, seconds: 18, findings: [], stale: false, closest: null },
      { sequence: routine, worst: null, seconds: 27.3, findings: [], stale: true, closest: null },
    ];
    const says = "The zero is 5 mm off.";
    const faults: Proof["faults"] = [
      { fault: "none", groups: [{ verdict: "safe", check: null, says: "", sequences: [to(2, 9), routine] }] },
      { fault: "part-off-left", groups: [{ verdict: "unsafe", check: "offset-off", says, sequences: [routine] }] },
    ];
    const calls = play({
      "GET /api/machines/heron/proofs/latest": () => [
        200,
        proof({ sequences: pairs, faults, causes: [], stop: 0, unsafe: 1 }),
      ],
      "GET /api/machines/heron": () => [200, machine],
      "POST /api/preview": () => [200, clean],
    });
    render(
      <MemoryRouter>
        <ProofStage />
      </MemoryRouter>,
    );
    const rows = within(await screen.findByRole("region", { name: "Proof of routines" }));
    expect(rows.getByRole("row").textContent).toContain("27.3 s");
    expect(rows.getByRole("button", { name: "frame corner, OK, stale" })).toBeTruthy();
    const matrix = screen.getByRole("table", { name: "Matrix of exchanges" });
    expect(within(matrix).queryByRole("button", { name: /frame corner/ })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: /the part lies 5 mm further left/ }));
    const cell = within(screen.getByRole("region", { name: "Proof of routines" })).getByRole("button");
    expect(cell.getAttribute("aria-label")).toBe("frame corner, unsafe");
    expect(screen.getByRole("button", { name: "1 sequence, first frame corner" })).toBeTruthy();
    fireEvent.click(cell);
    await waitFor(() => expect(calls.some((call) => call.path === "/api/preview")).toBe(true));
    const asked = calls.filter((call) => call.path === "/api/preview").at(-1)?.body;
    expect(asked).toMatchObject({ routine: "frame corner", fault: "part-off-left" });
  });

  it("shows the verdicts of a fault as a matrix, and what it comes to", async () => {
    const pairs = [
      { sequence: to(2, 9), worst: null, seconds: 18, findings: [], stale: false, closest: null },
      { sequence: to(9, 2), worst: null, seconds: 18, findings: [], stale: false, closest: null },
    ];
    const times: Proof["times"] = [
      {
        sequence: to(2, 9),
        seconds: 20,
        shares: [
          { name: "sideways", seconds: 12 },
          { name: "waiting", seconds: 8 },
        ],
      },
      {
        sequence: to(0, 2),
        seconds: 10,
        shares: [
          { name: "sideways", seconds: 4 },
          { name: "waiting", seconds: 6 },
        ],
      },
    ];
    const faults: Proof["faults"] = [
      {
        fault: "none",
        groups: [
          {
            verdict: "safe",
            check: null,
            says: "It is completed.",
            sequences: [to(2, 9), to(9, 2)],
          },
        ],
      },
      {
        fault: "override-high",
        groups: [
          { verdict: "unsafe", check: "nut-lift", says: "The nut is pushed down 2 mm.", sequences: [to(2, 9)] },
          { verdict: "safe", check: null, says: "It is completed.", sequences: [to(9, 2)] },
        ],
      },
    ];
    play({
      "GET /api/machines/heron/proofs/latest": () => [
        200,
        proof({ sequences: pairs, faults, times, cases: 4, unsafe: 1 }),
      ],
      "GET /api/machines/heron": () => [200, machine],
    });
    render(
      <MemoryRouter>
        <ProofStage />
      </MemoryRouter>,
    );
    const row = await screen.findByRole("button", { name: /feed override at 150 %/ });
    const bars = numbers("[data-share=waiting]", "width");
    expect((bars[0] as number) / (bars[1] as number)).toBeCloseTo(8 / 6);
    expect(row.dataset.verdict).toBe("unsafe");
    fireEvent.click(row);
    expect(screen.getByRole("button", { name: "T2 to T9, unsafe" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "T9 to T2, safe" })).toBeTruthy();
    expect(screen.getByText(/pushed down 2 mm/)).toBeTruthy();
    expect(screen.getByRole("button", { name: "1 sequence, first T2 to T9" })).toBeTruthy();
  });
});

describe("the sheets of the other styles", () => {
  const show = (name: keyof typeof others, at: number) => {
    const { document: setup, answer } = others[name];
    opened(answer);
    act(() => useDocument.setState({ document: setup, base: setup }));
    act(() => usePlayback.setState({ time: (answer.exchange?.trace?.seconds ?? 0) * at }));
    render(<ChangerSheet />);
  };

  it("draw a disc at home and swung out, with the pocket in front of the spindle", () => {
    const { answer } = others.plover;
    const disc = answer.scene?.magazine?.shapes.disc;
    const trace = answer.exchange?.trace as NonNullable<NonNullable<Answer["exchange"]>["trace"]>;
    const out = trace.devices.find((move) => move.device === "disc" && move.state === "out");
    const at = (t: number) => pocketsAt(answer.scene as NonNullable<Answer["scene"]>, trace, t)[0];
    expect(at(0)?.x).toBeCloseTo((disc?.home[0] ?? 0) + (disc?.radius ?? 0));
    expect(at(out?.end_seconds ?? 0)?.x).toBeCloseTo(disc?.exchange[0] ?? 0);
    show("plover", 0.5);
    expect(screen.getAllByRole("button", { name: /^Pocket \d+, T\d+/ })).toHaveLength(24);
    expect(screen.getByRole("button", { name: /^Swing/ })).toBeTruthy();
  });

  it("draw the arm's hands with both tools while it is down", () => {
    const trace = others.godwit.answer.exchange?.trace;
    const turn = trace?.devices.find((move) => move.device === "arm turn");
    show("godwit", ((turn?.start_seconds ?? 0) + 0.1) / (trace?.seconds ?? 1));
    expect(
      [...document.querySelectorAll("text")].filter((text) => /^T[12]$/.test(text.textContent ?? "")),
    ).toHaveLength(2);
  });

  it("draw forks with what hangs in them, and the loading place of a change by hand", () => {
    show("curlew", 0.4);
    expect(document.querySelectorAll("title").length).toBeGreaterThan(0);
    expect([...document.querySelectorAll("title")].some((title) => title.textContent === "fork 1")).toBe(true);
    cleanup();
    show("knot", 0.5);
    expect([...document.querySelectorAll("text")].some((text) => text.textContent === "loading place")).toBe(true);
    expect(screen.queryByRole("button", { name: /^Pocket/ })).toBeNull();
  });
});

describe("a program of the user's own", () => {
  it("is proven beside the written one, played where a cell is opened, and left again", async () => {
    const pairs = [{ sequence: to(2, 9), worst: null, seconds: 12, findings: [], stale: false, closest: null }];
    const mine = {
      id: 5, state: "done", done: 1, total: 1, stop: 0, warn: 0, revision: 1, author: "supervisor", stale: false, stale_sequences: 0, error: "",
      started: "2026-11-25T08:00:00Z", changes: [], causes: [], sequences: pairs, faults: [], cases: 1, unsafe: 0, undetectable: 0,
      times: [], file: "mine.nc", imported: "G21\nM30",
    }; // biome-ignore format: figures
    const calls = play({
      "GET /api/machines/heron/proofs/latest": () => [200, null],
      "POST /api/machines/heron/proofs": () => [200, mine],
      "GET /api/machines/heron": () => [200, machine],
      "POST /api/preview": () => [200, clean],
    });
    opened(clean);
    render(
      <MemoryRouter>
        <ProofStage />
      </MemoryRouter>,
    );
    fireEvent.click(screen.getByRole("button", { name: /A program of yours/ }));
    const file = Object.assign(new File([""], "mine.nc"), { text: async () => "G21\nM30" });
    fireEvent.change(screen.getByLabelText("Program to be proven"), { target: { files: [file] } });
    await waitFor(() =>
      expect(calls.find((call) => call.method === "POST" && call.path.endsWith("/proofs"))?.body).toEqual({
        file: "mine.nc",
        text: "G21\nM30",
      }),
    );
    act(() => useSelection.setState({ imported: { file: "mine.nc", text: "G21\nM30" } }));
    await act(() => chooseExchange({ from: 2, to: 9 }));
    expect(calls.filter((call) => call.path === "/api/preview").at(-1)?.body.program).toBe("G21\nM30");
    cleanup();
    render(<ProgramView />);
    fireEvent.click(screen.getByRole("button", { name: "back to the written one" }));
    await waitFor(() => expect(useSelection.getState().imported).toBeNull());
  });
});
