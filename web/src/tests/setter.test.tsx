/** The Setter stage: the window drawn, the sequence chosen, calibrating and the block, lengths taken over; a table of tools. */
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { learn } from "../api/query";
import { drift } from "../drawing/drift-placing";
import { useLive } from "../live/live";
import { CalibrationView } from "../stages/setter/calibration";
import { Lengths } from "../stages/setter/lengths";
import { useRuns } from "../stages/setter/runs";
import SetterStage from "../stages/setter/setter";
import { UnderFaults } from "../stages/setter/under-faults";
import { windowOf } from "../stages/setter/window";
import { ImportTools } from "../stages/tools/import-tools";
import { useDocument } from "../work/document";
import { useSelection } from "../work/selection";
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
  useSelection.setState({ stage: "measuring" });
  useRuns.setState({ planes: {} });
  useLive.setState({ reported: null });
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
    await waitFor(() => expect(useDocument.getState().document?.setters[0]?.search_feed).toBeGreaterThan(before ?? 0));
    fireEvent.change(screen.getByLabelText("Measuring sequence"), { target: { value: "breakage" } });
    fireEvent.change(screen.getByLabelText("Tool to measure"), { target: { value: "5" } });
    await waitFor(() => {
      const asked = calls.filter((call) => call.path === "/api/preview").at(-1)?.body;
      expect(asked).toMatchObject({ stage: "measuring", sequence: "breakage", tools: [5] });
    });
  });

  it("tells the run that stands out, refuses runs that are too far apart, and uses the mean", async () => {
    let refused = "The runs are 0.5 mm apart, and 0.02 mm is allowed.";
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
      "POST /api/setter/calibration": () => [
        200,
        { found: { ...found, refused }, rests_on: { "/tools/1/length": heron.tools[0]?.length } },
      ],
      "POST /api/machines/heron/readings": (body: Call["body"]) => [
        200,
        {
          reading: {
            id: 1,
            pointer: body.quantity,
            value: body.value,
            source: "typed",
            taken: "2026-11-26T08:00:00Z",
            rests_on: body.rests_on,
            replaced: [],
          },
        },
      ],
    });
    useRuns.setState({
      planes: {
        "heron setter": [-124.5, -124.51, -124.49, -124].map((plane, at) => ({
          plane,
          tool: 1,
          homing: at,
          at: `2026-12-01T0${at}`,
        })),
      },
    });
    const { container } = render(<CalibrationView />);
    expect(await screen.findByText("−124.500 mm")).toBeTruthy();
    expect(container.querySelector("[data-run='3']")?.textContent).toContain("stands out");
    const use = () => screen.getByRole<HTMLButtonElement>("button", { name: "Use it as the plane height" });
    expect(use().disabled).toBe(true);
    expect(screen.getByRole("alert").textContent).toContain("0.5 mm apart");
    refused = "";
    fireEvent.click(screen.getByRole("button", { name: "Leave run 4 out" }));
    await waitFor(() => expect(use().disabled).toBe(false));
    fireEvent.click(use());
    await waitFor(() => expect(useDocument.getState().document?.setters[0]?.plane_z).toBe(-124.5));
    expect(useRuns.getState().planes["heron setter"]).toEqual([]); // they are used up: another day's are not put beside them
  });

  it("offers a result of the control only for what it is, and asks for a typed one twice", async () => {
    routes({});
    const at = "2026-12-01T08:00:00Z";
    let of: object = { sequence: "measure", tools: [3], setter: "setter" };
    useLive.setState({
      reported: { execution: "READY", inputs: {}, dials: {}, part: { X: 0, Y: 0, Z: 0 } } as never,
      send: async () => ({
        pages: { lengths: {}, parameters: { 125: 47.892 }, ran: { of, at, homing: 1, wrote: [125] }, measured: {} },
      }),
    });
    const first = render(<CalibrationView />);
    expect(await screen.findByText(/last result is of “measure” of T3 at setter/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /from the control/ })).toBeNull();
    first.unmount();
    of = { sequence: "calibrate", tools: [1], setter: "setter" };
    render(<CalibrationView />);
    fireEvent.click(await screen.findByRole("button", { name: /from the control/ }));
    expect(useRuns.getState().planes["heron setter"]).toMatchObject([{ plane: 47.892, tool: 1, homing: 1, at }]);
    const type = (label: string, text: string) => {
      const field = screen.getByLabelText(label);
      fireEvent.change(field, { target: { value: text } });
      fireEvent.keyDown(field, { key: "Enter" });
    };
    type("or type it", "-124.5");
    await screen.findByLabelText("again, as you read it");
    type("again, as you read it", "-125.4");
    expect((await screen.findByRole("alert")).textContent).toContain("differ");
    type("or type it", "-124.5");
    await screen.findByLabelText("again, as you read it");
    type("again, as you read it", "-124.5");
    await waitFor(() => expect(useRuns.getState().planes["heron setter"]).toHaveLength(2));
    const kept = localStorage.getItem("orthotrope:runs:technician"); // a reload finds them again
    expect(JSON.parse(kept ?? "{}").state.planes["heron setter"]).toHaveLength(2);
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

  it("shows what the control has, and takes a length over as a reading with what it rests on", async () => {
    const ran = (plane: number) => ({
      of: { sequence: "measure", rests_on: { "/setters/setter/plane_z": plane } },
      at: "2026-12-01T08:00:00Z",
      homing: 1,
    });
    const calls = routes({
      "POST /api/setter/lengths": () => [200, [{ tool: 3, half_width_95: 0.1, assumed: [] }]],
      "POST /api/machines/heron/readings": (body: Call["body"]) => [
        200,
        {
          reading: {
            id: 1,
            pointer: body.quantity,
            value: body.value,
            source: "typed",
            taken: "2026-11-26T08:00:00Z",
            rests_on: body.rests_on,
            replaced: [],
          },
        },
      ],
    });
    useLive.setState({
      reported: { execution: "READY", inputs: {}, dials: {}, part: { X: 0, Y: 0, Z: 0 } } as never,
      send: async () => ({
        pages: {
          lengths: { 2: 40.1, 3: 47.9, 4: 50.2 },
          parameters: {},
          measured: { 3: ran(heron.setters[0]?.plane_z ?? 0), 4: ran(-99) },
        },
      }),
    });
    learn(["readings", "heron"], []);
    const { container } = render(<Lengths />);
    const use = await screen.findByRole<HTMLButtonElement>("button", { name: "Use the length of T3" });
    await waitFor(() => expect(use.disabled).toBe(false)); // until what it is uncertain by is known
    fireEvent.click(use);
    // one was measured with another plane, one by nothing that is known
    expect(screen.queryByRole("button", { name: "Use the length of T4" })).toBeNull();
    expect(screen.queryByRole("button", { name: /^Use all/ })).toBeNull();
    const left = container.querySelector("[data-left-out]")?.textContent;
    expect(left).toMatch(/T2 \(not by a program .*T4 \(measured with another/);
    await waitFor(() => expect(useDocument.getState().document?.tools[2]?.length).toBe(47.9));
    expect(calls.find((call) => call.path.endsWith("/readings"))?.body).toMatchObject({
      value: 47.9,
      source: "typed",
      rests_on: { "/setters/setter/plane_z": heron.setters[0]?.plane_z },
      measured: "2026-12-01T08:00:00Z",
      half_width_95: 0.1,
    });
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
      columns: [
        { heading: "number", field: "number" },
        { heading: "length", field: "length" },
      ],
      lacks: ["stick_out"],
      fields: { number: "Number", length: "Length", stick_out: "Stick-out" },
      rows: [
        { row: 2, tool: 3, changes: "T3: length", wrong: "", cells: ["3", "47.9"] },
        { row: 3, tool: 4, changes: "", wrong: '`length` "long": A number is expected here.', cells: ["4", "long"] },
      ],
      tools: heron.tools.map((tool) => (tool.number === 3 ? { ...tool, length: 47.9 } : tool)),
    };
    routes({ "POST /api/machines/heron/tools/preview": () => [200, table] });
    render(<ImportTools onClose={() => {}} />);
    const box = screen.getByLabelText("Rows of the table") as HTMLTextAreaElement;
    fireEvent.change(box, { target: { value: "number\tlength\n3\t47.9\n4\tlong" } });
    fireEvent.click(screen.getByRole("button", { name: "Show the changes" }));
    const dialog = within(await screen.findByRole("dialog"));
    fireEvent.click(await dialog.findByRole("button", { name: "Import the 1 good rows" }));
    await waitFor(() => expect(useDocument.getState().document?.tools[2]?.length).toBe(47.9));
    await waitFor(() => expect(box.value).toBe("number\tlength\n4\tlong"));
  });
});
