/** The Setter stage: the window drawn, the sequence chosen, calibrating and the block, lengths taken over; a table of tools. */
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { useLive } from "../live/live";
import { drift } from "../readings/drift-placing";
import { useReadings } from "../readings/readings";
import { CalibrationView } from "../stages/setter/calibration";
import { Lengths } from "../stages/setter/lengths";
import { useRuns } from "../stages/setter/runs";
import SetterStage from "../stages/setter/setter";
import { UnderFaults } from "../stages/setter/under-faults";
import { windowOf } from "../stages/setter/window";
import { BringInTools } from "../stages/tools/bring-in";
import { useWork } from "../work/store";
import { type Call, heron, machine, ofMeasuring, opened, play, sized, textShown } from "./heron";

const routes = (more: Parameters<typeof play>[0] = {}) =>
  play({
    "POST /api/preview": () => [200, ofMeasuring],
    "POST /api/quantity": (body: Call["body"]) => [200, { value: Number(body.text), unit: "mm", what: "", column: 0 }],
    "PUT /api/machines/heron": (body: Call["body"]) => [200, { ...machine, document: body.document as never }],
    ...more,
  });

beforeEach(() => {
  localStorage.clear();
  sized();
  Element.prototype.scrollIntoView = () => {};
  opened(ofMeasuring);
  useWork.setState({ stage: "measuring" });
  useRuns.setState({ planes: {} });
});
afterEach(cleanup);

describe("the setter", () => {
  it("is drawn with the longest and the shortest tool, its heights editable where they stand", async () => {
    routes();
    const { container } = render(<SetterStage />);
    expect([...container.querySelectorAll("[data-column]")].map((c) => c.getAttribute("data-column"))).toEqual([
      "longest",
      "now",
      "shortest",
    ]);
    expect(screen.getByRole("button", { name: /^plane, −124.200, edit/ })).toBeTruthy();
    expect(container.querySelector("[data-fits=true]")).toBeTruthy();
    expect(await textShown()).toContain("G38.3 Z-19 F300");
  });

  it("offers the fastest search, and asks for the sequence that is chosen", async () => {
    const calls = routes();
    render(<SetterStage />);
    const before = heron.setters[0]?.search_feed;
    fireEvent.click(screen.getByRole("button", { name: /^Search at/ }));
    await waitFor(() => expect(useWork.getState().document?.setters[0]?.search_feed).toBeGreaterThan(before ?? 0));
    fireEvent.change(screen.getByLabelText("Measuring sequence"), { target: { value: "breakage" } });
    fireEvent.change(screen.getByLabelText("Tool to measure"), { target: { value: "5" } });
    await waitFor(() => {
      const asked = calls.filter((call) => call.path === "/api/preview").at(-1)?.body;
      expect(asked).toMatchObject({ stage: "measuring", sequence: "breakage", tools: [5] });
    });
  });

  it("takes a run of the control once, tells the one that stands out, and uses the mean", async () => {
    const found = {
      value: -124.5,
      half_width_95: 0.02,
      scatter: 0.01,
      touches: 4,
      spread: 0.5,
      outlier: 3,
      shares: [{ name: "scatter of the touches", share: 0.9 }],
    };
    routes({
      "POST /api/setter/calibration": () => [200, found],
      "POST /api/machines/heron/readings": (body: Call["body"]) => [
        200,
        {
          reading: { id: 1, pointer: body.quantity, value: body.value, source: "typed", taken: "2026-11-26T08:00:00Z" },
        },
      ],
    });
    useRuns.setState({ planes: { "heron setter": [-124.5, -124.51, -124.49, -124] } });
    const { container } = render(<CalibrationView />);
    expect(await screen.findByText("−124.500 mm")).toBeTruthy();
    expect(container.querySelector("[data-run='3']")?.textContent).toContain("stands out");
    fireEvent.click(screen.getByRole("button", { name: "Use it as the plane height" }));
    await waitFor(() => expect(useWork.getState().document?.setters[0]?.plane_z).toBe(-124.5));
  });

  it("asks who set the zero before a block tells anything", async () => {
    routes({
      "POST /api/setter/block": () => [
        200,
        {
          error: 0.3,
          true_length: 1,
          true_plane_z: -124.5,
          half_width_95: 0.01,
          matters: true,
          says: "Off by 0.3 mm.",
        },
      ],
    });
    render(<CalibrationView />);
    const field = screen.getByLabelText("the readout shows");
    fireEvent.change(field, { target: { value: "50.3" } });
    fireEvent.keyDown(field, { key: "Enter" });
    fireEvent.change(screen.getByLabelText("the zero was set by"), { target: { value: "this tool" } });
    expect(screen.getByRole("alert").textContent).toContain("proves nothing");
    fireEvent.change(screen.getByLabelText("the zero was set by"), { target: { value: "another tool" } });
    expect(await screen.findByText("Off by 0.3 mm.")).toBeTruthy();
    expect(screen.getByText(/the plane would be/).textContent).toContain("−124.500");
  });

  it("shows what the control has, and takes a length over as a reading", async () => {
    const calls = routes({
      "POST /api/machines/heron/readings": (body: Call["body"]) => [
        200,
        {
          reading: { id: 1, pointer: body.quantity, value: body.value, source: "typed", taken: "2026-11-26T08:00:00Z" },
        },
      ],
    });
    useLive.setState({
      told: { execution: "READY", inputs: {}, dials: {} } as never,
      send: async () => ({ pages: { lengths: { 3: 47.9 }, parameters: {} } }),
    });
    useReadings.setState({ slug: "heron", list: [] });
    render(<Lengths />);
    fireEvent.click(await screen.findByRole("button", { name: "Use the length of T3" }));
    await waitFor(() => expect(useWork.getState().document?.tools[2]?.length).toBe(47.9));
    expect(calls.find((call) => call.path.endsWith("/readings"))?.body).toMatchObject({ value: 47.9, source: "typed" });
  });
});

describe("measuring under faults", () => {
  it("runs tool after tool, tells what is not safe, and plays a cell", async () => {
    const faults = (verdict: string) => [
      { fault: "none", verdict: "safe", says: "It ends." },
      { fault: "wrong-tool", verdict, says: "T3 meets the setter." },
    ];
    const calls = routes({
      "POST /api/setter/proof": (body: Call["body"]) => [
        200,
        {
          tool: body.tool,
          worst: null,
          findings: [],
          seconds: 20,
          faults: faults(body.tool === 3 ? "undetectable" : "safe"),
        },
      ],
    });
    let played = 0;
    const { container } = render(<UnderFaults onPlay={() => played++} />);
    fireEvent.click(screen.getByRole("button", { name: "Run it" }));
    await screen.findByRole("button", { name: "Run it again" });
    expect(container.querySelectorAll("td[data-verdict=safe]")).toHaveLength(2 * heron.tools.length - 1);
    expect(within(screen.getByRole("list", { name: "Not safe" })).getAllByRole("listitem")).toHaveLength(1);
    fireEvent.click(screen.getByRole("button", { name: /^T3, wrong-tool/ }));
    await waitFor(() =>
      expect(calls.filter((call) => call.path === "/api/preview").at(-1)?.body).toMatchObject({
        fault: "wrong-tool",
        tools: [3],
      }),
    );
    expect(played).toBe(1);
  });
});

describe("what is placed", () => {
  it("keeps every height within the window and the columns apart", () => {
    const room = { width: 700, height: 420 };
    const to = windowOf({ low: -200, high: 30 }, 3, 60, room);
    expect(to.atZ(30)).toBeGreaterThanOrEqual(to.top - 1e-6);
    expect(to.atZ(-200)).toBeLessThanOrEqual(to.bottom + 1e-6);
    expect(to.column(1) - to.column(0)).toBeGreaterThan(60 * to.scale);
  });

  it("has a drift chart that shows no less than it can matter", () => {
    const still = drift([-124.2, -124.2], { width: 300, height: 130 });
    expect(still.ticks[0]?.value).toBeCloseTo(-124.19);
    expect(drift([-124, -125], { width: 300, height: 130 }).points.map(([, y]) => y)).toEqual([14, 112]);
  });
});

describe("a table of tools", () => {
  it("tells bad rows, takes the good ones, and leaves the bad ones in the box", async () => {
    const table = {
      head: ["number", "length"],
      rows: [
        { row: 2, tool: 3, changes: "T3: length", wrong: "", cells: ["3", "47.9"] },
        { row: 3, tool: 4, changes: "", wrong: '`length` "long": A number is expected here.', cells: ["4", "long"] },
      ],
      tools: heron.tools.map((tool) => (tool.number === 3 ? { ...tool, length: 47.9 } : tool)),
    };
    routes({ "POST /api/machines/heron/tools/preview": () => [200, table] });
    render(<BringInTools onClose={() => {}} />);
    const box = screen.getByLabelText("Rows of the table") as HTMLTextAreaElement;
    fireEvent.change(box, { target: { value: "number\tlength\n3\t47.9\n4\tlong" } });
    fireEvent.click(screen.getByRole("button", { name: "Show the changes" }));
    const dialog = within(await screen.findByRole("dialog"));
    fireEvent.click(await dialog.findByRole("button", { name: "Import the 1 good rows" }));
    await waitFor(() => expect(useWork.getState().document?.tools[2]?.length).toBe(47.9));
    await waitFor(() => expect(box.value).toBe("number\tlength\n4\tlong"));
  });
});
