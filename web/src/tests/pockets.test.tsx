/** Where the pockets are, and which tool is in which: residuals drawn, slips reported, tools picked and placed. */
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { reservedOf } from "../changers/of-changer";
import { useLive } from "../live/live";
import { AlignmentView } from "../stages/changer/alignment";
import { ReservedPockets } from "../stages/changer/around";
import { PocketTable } from "../stages/changer/pocket-table";
import { useDocument } from "../work/document";
import { undo } from "../work/editing";
import { type Call, clean, heron, machine, ofTaught, opened, play, rackNow, sized } from "./heron";

const rack = heron.changer?.rack;
const taught = {
  ...heron,
  changer: heron.changer && {
    ...heron.changer,
    rack: {
      ...heron.changer.rack,
      taught: [
        { pocket: 1, x: 128.86, y: 1188.17, z: null },
        { pocket: 3, x: 245.62, y: 1187.82, z: null },
        { pocket: 6, x: 420.7, y: 1187.27, z: null },
        { pocket: 8, x: 573.4, y: 1186.92, z: null },
        { pocket: 10, x: 654.1, y: 1186.52, z: null },
      ],
    },
  },
};

const TEXTS = ["above it", "down to hover"].map((step) => ({ name: `Heron, pocket 1: ${step}`, text: `(${step})` }));
const routes = (answer = ofTaught, more: Parameters<typeof play>[0] = {}) =>
  play({
    "POST /api/preview": () => [200, answer],
    "POST /api/approach": () => [200, TEXTS],
    "GET /api/machines/heron/readings": () => [200, []],
    "PUT /api/machines/heron": (body: Call["body"]) => [200, { ...machine, document: body.document as never }],
    ...more,
  });

beforeEach(() => {
  localStorage.clear();
  sized();
  opened();
});
afterEach(cleanup);

describe("where the pockets are", () => {
  it("draws what each taught pocket misses the fit by, and tells the one that was mistyped", () => {
    routes();
    opened(ofTaught);
    useDocument.setState({ document: taught as never });
    render(<AlignmentView />);
    expect(document.querySelectorAll("[data-residual]")).toHaveLength(5);
    expect(document.querySelectorAll("[data-known]")).toHaveLength(10);
    const row = document.querySelector("[data-taught='8']") as HTMLElement;
    expect(row.textContent).toContain("X: two digits are swapped");
    expect(screen.getByText("stands out")).toBeTruthy();
    const says = [...document.querySelectorAll("[data-says]")].map((line) => line.textContent).join(" ");
    expect(says).toContain("Pocket 8 stands out");
  });

  it("takes the fit as the rack's rule and goes back to nominal", async () => {
    routes();
    opened(ofTaught);
    useDocument.setState({ document: taught as never });
    render(<AlignmentView />);
    fireEvent.click(screen.getByRole("button", { name: "Take the fit" }));
    const now = () => rackNow();
    await waitFor(() => expect(now()?.nominal?.pitch).toBe(rack?.pitch));
    expect(now()?.pitch).toBe(ofTaught.alignment?.fit?.take.pitch);
    fireEvent.click(screen.getByRole("button", { name: "Back to nominal" }));
    await waitFor(() => expect(now()?.pitch).toBe(rack?.pitch));
    expect(now()?.nominal).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Each as it was taught" }));
    await waitFor(() => expect(now()?.single_positions).toBe(true));
  });

  it("teaches a pocket where the machine was seen to stand", async () => {
    const calls = routes(clean, {
      "POST /api/machines/heron/teach": () => [
        200,
        { readings: [], edit_at: "/changer/rack/taught", edit: [{ pocket: 4, x: 303.9, y: 1187.5, z: null }] },
      ],
    });
    useLive.setState({
      reported: { position: { X: 303.9, Y: 1187.5, Z: -5 }, homed: true, dials: {}, inputs: {} } as never,
    });
    render(<AlignmentView />);
    fireEvent.change(screen.getByLabelText("Pocket to teach"), { target: { value: "4" } });
    expect(document.querySelector("[data-here]")?.textContent).toContain("X 303.900");
    fireEvent.click(screen.getByRole("button", { name: "Teach it here" }));
    await waitFor(() => expect(rackNow()?.taught[0]?.pocket).toBe(4));
    expect(calls.find((call) => call.path.endsWith("/teach"))?.body).toEqual({
      pocket: 4,
      seen: [303.9, 1187.5, -5],
      with_height: false,
    });
    useLive.setState({ reported: null });
  });

  it("notes what was seen at the approach of a pocket", async () => {
    routes(clean);
    render(<AlignmentView />);
    expect(await screen.findByRole("button", { name: "Run: down to hover" })).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "rubs" }));
    await waitFor(() => expect(rackNow()?.approached).toEqual([{ pocket: 1, outcome: "rubs", note: "" }]));
  });
});

describe("the pocket table", () => {
  const pockets = () =>
    Object.fromEntries(useDocument.getState().document?.tools.map((tool) => [tool.number, tool.pocket]) ?? []);

  it("moves a picked tool; what was there takes its place", async () => {
    routes(clean);
    render(<PocketTable />);
    fireEvent.click(screen.getByRole("button", { name: "Select T5" }));
    fireEvent.click(screen.getByRole("button", { name: "Put T5 into pocket 2" }));
    await waitFor(() => expect(pockets()[5]).toBe(2));
    expect(pockets()[2]).toBe(5);
    fireEvent.change(screen.getByLabelText("Tool in pocket 10"), { target: { value: "1" } });
    await waitFor(() => expect(pockets()[1]).toBe(10));
    expect(document.querySelector("[data-pocket='7']")?.textContent).toContain("reserved: setter");
  });

  it("keeps pockets for a setter and for something else, and frees them; a setter needs its input", async () => {
    routes(clean);
    const { rerender } = render(<ReservedPockets />);
    fireEvent.click(screen.getByRole("button", { name: "Reserve a pocket for a setter" }));
    await waitFor(() => expect(useDocument.getState().document?.setters).toHaveLength(2));
    expect(useDocument.getState().document?.setters[1]).toMatchObject({ name: "setter 2", input: 2, pocket: 10 });
    fireEvent.click(screen.getByRole("button", { name: "Free pocket 7" }));
    await waitFor(() =>
      expect(useDocument.getState().document?.setters.map((setter) => setter.name)).toEqual(["setter 2"]),
    );
    fireEvent.click(screen.getByRole("button", { name: "Reserve a pocket for something else" }));
    await waitFor(() => expect(reservedOf(useDocument.getState().document?.changer)).toMatchObject([{ pocket: 7 }]));
    useDocument.setState({ document: { ...heron, inputs: [] } });
    rerender(<ReservedPockets />);
    const button = screen.getByRole("button", { name: "Reserve a pocket for a setter" }) as HTMLButtonElement;
    expect(button.disabled && button.title).toContain("Signals stage");
  });

  it("asks before all tools are moved, which a supervisor does, and can be undone", async () => {
    routes(clean);
    render(<PocketTable />);
    expect((screen.getByRole("button", { name: "Empty all" }) as HTMLButtonElement).disabled).toBe(true);
    cleanup();
    const emptied = { ...heron, tools: heron.tools.map((tool) => ({ ...tool, pocket: null })) };
    routes(clean, { "POST /api/machines/heron/pockets/arrange": () => [200, { ...machine, document: emptied }] });
    opened(clean, "supervisor");
    render(<PocketTable />);
    fireEvent.click(screen.getByRole("button", { name: "Empty all" }));
    fireEvent.click(within(screen.getByRole("dialog")).getByRole("button", { name: "Empty all" }));
    await waitFor(() => expect(pockets()[1]).toBeNull());
    await undo();
    expect(pockets()[1]).toBe(1);
  });

  it("shows what a table would change, and takes nothing while a row is wrong", async () => {
    const rows = [
      { row: 3, changes: "", wrong: "There is no tool T77; add it on the Tools stage first.", pocket: 2, tool: 77 },
    ];
    routes(clean, { "POST /api/machines/heron/pockets/preview": () => [200, { rows, tools: null }] });
    render(<PocketTable />);
    const file = new File(["pocket,tool\n2,77"], "mine.csv");
    fireEvent.change(screen.getByLabelText("Pocket table file"), { target: { files: [file] } });
    const dialog = await screen.findByRole("dialog");
    expect(dialog.textContent).toContain("There is no tool T77");
    expect((within(dialog).getByRole("button", { name: "Import" }) as HTMLButtonElement).disabled).toBe(true);
  });
});
