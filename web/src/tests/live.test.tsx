/** The hand panel against a socket that is played by the test: state, jog, readings; and the stages Signals and Machine. */
import { act, cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Machine } from "../api/client";
import { learn } from "../api/query";
import { useShell } from "../common/shell-state";
import { HandPanel } from "../live/hand-panel";
import { type MachineReport, useLive } from "../live/live";
import MachineStage from "../stages/machine/machine";
import SignalsStage from "../stages/signals/signals";
import { useDocument } from "../work/document";
import { useSelection } from "../work/selection";
import { type Call, clean, heron, machine, ofMachine, ofSignals, opened, play, rackNow, reading, sized } from "./heron";

class Socket {
  static all: Socket[] = [];
  static OPEN = 1;
  readyState = 1;
  sent: Record<string, unknown>[] = [];
  onopen?: () => void;
  onmessage?: (event: { data: string }) => void;
  onclose?: (event: { code: number }) => void;
  constructor(public address: string) {
    Socket.all.push(this);
    queueMicrotask(() => this.onopen?.());
  }
  send(text: string) {
    this.sent.push(JSON.parse(text));
  }
  close() {
    this.readyState = 3;
  }
  say(data: unknown) {
    act(() => this.onmessage?.({ data: JSON.stringify(data) }));
  }
  lose(code = 1006) {
    this.readyState = 3;
    act(() => this.onclose?.({ code }));
  }
}

const socket = () => Socket.all.at(-1) as Socket;
const reported = (part: Partial<MachineReport> = {}): MachineReport => ({
  position: { X: 128.8813, Y: 20, Z: -5 },
  part: { X: -133.4687, Y: -311.8, Z: 166.4 },
  homed: true,
  execution: "READY",
  block: "",
  line: 0,
  tool: 0,
  offset: 1,
  spindle: 0,
  powered: true,
  alarm: "",
  message: "",
  inputs: { "touch plate": false, setter: true, "air pressure": true, "gantry door": true },
  outputs: {},
  dials: {},
  when: Date.now() / 1000,
  ...part,
});
const state = (part: Partial<MachineReport> = {}, standing = "connected", says = "", age: number | null = 0) =>
  socket().say({ link: { standing, says, age }, machine: reported(part), edges: [] });

const OFFER = {
  offer: {
    quantity: "/changer/rack/datum/x",
    axis: "X",
    raw: 128.8813,
    value: 128.88,
    step: 0.005,
    says: "machine X",
    edit_at: "/changer/rack/datum/x",
    edit: 128.88,
    now: 128.4,
  },
  says: "",
  targets: { X: 128.4, Y: 1187.5 },
};
const routes = (more: Parameters<typeof play>[0] = {}) =>
  play({
    "GET /api/machines/heron/readings": () => [200, []],
    "POST /api/offers": () => [200, OFFER],
    "POST /api/preview": () => [200, clean],
    "GET /api/profiles": () => [200, []],
    "POST /api/quantity": (body: Call["body"]) => [200, { value: Number(body.text), unit: "", what: "", column: 0 }],
    "PUT /api/machines/heron": (body: Call["body"]) => [200, { ...machine, document: body.document as never }],
    ...more,
  });

beforeEach(() => {
  localStorage.clear();
  sized();
  Socket.all = [];
  vi.stubGlobal("WebSocket", Socket);
  opened();
  learn(["readings", "heron"], []);
  useShell.setState({ panel: true });
});
afterEach(() => {
  cleanup();
  useLive.getState().leave();
  vi.useRealTimers();
});

describe("the hand panel", () => {
  it("shows where the machine stands beside the stored place, and what is to go", async () => {
    routes();
    useSelection.setState({ focus: "/changer/rack/datum/x" });
    render(<HandPanel />);
    expect(socket().address).toMatch(/\/live\/heron$/);
    state();
    expect(screen.getByText("Machine connected")).toBeTruthy();
    expect(document.querySelector("[data-axis=X]")?.textContent).toBe("128.881");
    await waitFor(() => expect(document.querySelector("[data-to-go=X]")?.textContent).toBe("−0.481"));
    expect(document.querySelector("[data-to-go=Y]")?.textContent).toBe("1\u202f167.500");
    state({ homed: false, alarm: "X stands at its hard stop." });
    expect(screen.getByText("not homed")).toBeTruthy();
    expect(screen.getByRole("alert").textContent).toBe("X stands at its hard stop.");
  });

  it("tells a lost machine in words with the age, and a lost server", () => {
    routes();
    render(<HandPanel />);
    state({}, "lost", "The agent has gone silent.", 7.4);
    expect(screen.getByRole("status").textContent).toContain("The agent has gone silent. Last heard 7 s ago.");
    socket().lose();
    expect(screen.getByRole("status").textContent).toContain("what was held has stopped");
  });

  it("jogs by steps, and held with signs of life until it is let go", () => {
    routes();
    vi.useFakeTimers();
    render(<HandPanel />);
    state();
    fireEvent.click(screen.getByRole("button", { name: "0.1" }));
    const plus = screen.getByRole("button", { name: "Jog X plus" });
    plus.setPointerCapture = () => {};
    fireEvent.pointerDown(plus, { pointerId: 1 });
    fireEvent.pointerUp(plus, { pointerId: 1 });
    expect(socket().sent.at(-1)).toMatchObject({ do: "jog", axis: "X", by: 0.1, creep: false });
    fireEvent.click(screen.getByRole("button", { name: "hold" }));
    fireEvent.pointerDown(plus, { pointerId: 1 });
    expect(socket().sent.at(-1)).toMatchObject({ do: "jog", by: 1, held: true });
    vi.advanceTimersByTime(450);
    expect(socket().sent.filter((command) => command.do === "alive")).toHaveLength(4);
    fireEvent.pointerUp(plus, { pointerId: 1 });
    expect(socket().sent.at(-1)).toMatchObject({ do: "release" });
    vi.advanceTimersByTime(1000);
    expect(socket().sent.filter((command) => command.do === "alive")).toHaveLength(4);
  });

  it("lets keys act only while it is armed; Escape stops", () => {
    routes();
    render(<HandPanel />);
    state();
    const before = socket().sent.length;
    fireEvent.keyDown(window, { key: "ArrowLeft" });
    expect(socket().sent.length).toBe(before);
    fireEvent.click(screen.getByRole("button", { name: "Arm the keys" }));
    fireEvent.keyDown(document.body, { key: "ArrowLeft" });
    expect(socket().sent.at(-1)).toMatchObject({ do: "jog", axis: "X", by: -1 });
    fireEvent.keyDown(document.body, { key: "Escape" });
    expect(socket().sent.at(-1)).toMatchObject({ do: "stop" });
    expect(useLive.getState().armed).toBe(false);
  });

  it("takes a reading after its number was seen, and puts it where it belongs", async () => {
    const calls = routes({
      "POST /api/machines/heron/readings": () => [
        200,
        { reading: reading({}), edit_at: "/changer/rack/datum/x", edit: 128.88 },
      ],
    });
    useSelection.setState({ focus: "/changer/rack/datum/x" });
    render(<HandPanel />);
    state();
    await waitFor(() => expect(document.querySelector("[data-offer]")?.textContent).toContain("becomes 128.880"));
    expect(document.querySelector("[data-offer]")?.textContent).toContain("128.8813, to steps of 0.005");
    fireEvent.click(screen.getByRole("button", { name: "Take reading" }));
    await waitFor(() => expect(rackNow()?.datum.x).toBe(128.88));
    const taken = calls.find((call) => call.path.endsWith("/readings") && call.method === "POST");
    expect(taken?.body).toMatchObject({ source: "machine", seen: [128.8813, 20, -5] });
    expect(within(screen.getByRole("list", { name: "Readings" })).getByText("in use")).toBeTruthy();
    expect(document.querySelector("[data-capture]")?.textContent).toContain("by technician");
  });

  it("says what a refused reading was refused for, and takes an older one again", async () => {
    routes({ "POST /api/machines/heron/readings": () => [409, { message: "The machine has moved since." }] });
    useSelection.setState({ focus: "/changer/rack/datum/x" });
    render(<HandPanel />);
    state();
    await waitFor(() => expect(document.querySelector("[data-offer]")).toBeTruthy());
    fireEvent.click(screen.getByRole("button", { name: "Take reading" }));
    expect((await screen.findByRole("alert")).textContent).toContain("has moved since");
    act(() => learn(["readings", "heron"], [reading({ id: 3, value: 127.5 })]));
    fireEvent.click(await screen.findByRole("button", { name: "take again" }));
    await waitFor(() => expect(rackNow()?.datum.x).toBe(127.5));
  });

  it("takes a measured end again when the travel is not measured any more", async () => {
    const quantity = "/machine/axes/X/measured/greatest";
    const older = reading({ quantity, pointer: quantity, value: 814.26 });
    routes({ "GET /api/machines/heron/readings": () => [200, [older]] });
    useSelection.setState({ focus: quantity });
    render(<HandPanel />);
    state();
    fireEvent.click(await screen.findByRole("button", { name: "take again" }));
    await waitFor(() =>
      expect(useDocument.getState().document?.machine.axes.X.measured).toEqual({ least: 0, greatest: 814.26 }),
    );
  });

  it("offers a viewer nothing that acts", () => {
    routes();
    opened(clean, "viewer");
    render(<HandPanel />);
    state();
    expect((screen.getByRole("button", { name: "Home" }) as HTMLButtonElement).disabled).toBe(true);
    expect((screen.getByRole("group", { name: "Jog" }) as HTMLFieldSetElement).disabled).toBe(true);
    expect(screen.queryByRole("button", { name: "Actuate setter" })).toBeNull();
  });
});

describe("the Signals stage", () => {
  it("is stepped by hand without a machine, and what it shows is fixed in one action", async () => {
    const test = {
      number: 1,
      wiring: "normally closed",
      level: "high",
      seen: ["made", "idle", "made"],
      outcome: "reversed",
      edges: [],
      by_hand: true,
      author: "technician",
      when: new Date().toISOString(),
      stale: false,
      why: "",
    };
    const calls = routes({
      "POST /api/machines/heron/inputs/1/tests": () => [200, { ...machine, tests: [test] } as Machine],
      "POST /api/preview": () => [200, ofSignals],
    });
    opened(ofSignals);
    render(<SignalsStage />);
    expect(document.querySelector("[data-says]")?.textContent).toContain("the next touch drives in");
    const region = screen.getByRole("region", { name: "Test" });
    for (const step of ["idle", "made", "idle again"]) {
      fireEvent.click(within(region).getByRole("button", { name: "change" }));
      fireEvent.click(within(region).getByRole("button", { name: new RegExp(`^It is ${step}: seen as`) }));
    }
    await waitFor(() => expect(within(region).getByText("⇄ reversed")).toBeTruthy());
    const kept = calls.find((call) => call.path.endsWith("/tests"));
    expect(kept?.body).toMatchObject({ seen: ["made", "idle", "made"], by_hand: true });
    fireEvent.click(within(region).getByRole("button", { name: /^Invert its level/ }));
    await waitFor(() =>
      expect(useDocument.getState().document?.inputs[0]).toMatchObject({ level: "high", wiring: "normally closed" }),
    );
  });

  it("adds an input with a number that is free", async () => {
    routes({ "POST /api/preview": () => [200, ofSignals] });
    opened(ofSignals);
    render(<SignalsStage />);
    fireEvent.click(screen.getAllByRole("button", { name: "Add" })[0] as HTMLElement);
    await waitFor(() =>
      expect(useDocument.getState().document?.inputs.map((entry) => entry.number)).toEqual([1, 2, 3, 4, 5]),
    );
  });
});

describe("the Machine stage", () => {
  it("draws the speed in force against the one kept beside it, and changes them over", async () => {
    routes({ "POST /api/preview": () => [200, ofMachine] });
    opened(ofMachine);
    render(<MachineStage />);
    fireEvent.click(screen.getByRole("button", { name: "Speed curves" }));
    const curve = screen.getByRole("img", { name: "Speed of X across its travel" });
    expect(curve.querySelectorAll("path.line-now")).toHaveLength(1);
    expect(curve.querySelectorAll("path.line-hidden")).toHaveLength(1);
    fireEvent.click(screen.getAllByRole("button", { name: "Swap" })[0] as HTMLElement);
    await waitFor(() =>
      expect(useDocument.getState().document?.machine.axes.X).toMatchObject({ rapid: 7500, acceleration: 450 }),
    );
    expect(useDocument.getState().document?.machine.axes.X.kept).toEqual({ rapid: 9000, acceleration: 650 });
  });

  it("tells which value is left of the table, and reads the card back", async () => {
    const calls = routes({
      "POST /api/machines/heron/readings": (body) => [
        200,
        {
          reading: reading({
            source: "read-back",
            pointer: body.quantity as string,
            value: 1,
            raw: 10,
            agrees: false,
            difference: 9,
            slip: "the decimal point is elsewhere",
          }),
        },
      ],
    });
    opened(ofMachine);
    render(<MachineStage />);
    expect(document.querySelector("[data-left]")?.textContent).toMatch(/99\.6 % within.*9\d\.\d % left for jobs/);
    fireEvent.click(screen.getByRole("button", { name: "Entry card" }));
    const field = screen.getByLabelText("Soft limits, X from: the control shows");
    fireEvent.change(field, { target: { value: "10" } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(await screen.findByText(/✕ 10 is not it: the decimal point is elsewhere/)).toBeTruthy();
    expect(calls.find((call) => call.path.endsWith("/readings") && call.method === "POST")?.body).toMatchObject({
      quantity: "/machine/axes/X/soft_least",
      source: "read-back",
      value: 10,
    });
  });

  it("copies a shipped profile to be changed, and keeps the shipped one as it is", async () => {
    const shipped = { name: "parametric", g_words: [0], m_words: [0], parameters: {}, description: "" };
    routes({
      "GET /api/profiles": () => [200, [shipped]],
      "POST /api/profile-sample": () => [
        200,
        { faults: [], text: "%\nM30\n%", says: "Read back.", agrees: true, call: "T2 M6" },
      ],
      "POST /api/preview": () => [200, ofMachine],
    });
    opened(ofMachine);
    render(<MachineStage />);
    fireEvent.click(screen.getByRole("button", { name: "Control profile" }));
    expect(await screen.findByText(/copy it to change it/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Copy" }));
    await waitFor(() =>
      expect(useDocument.getState().document?.profiles.map((p) => p.name)).toEqual(["parametric, a copy"]),
    );
    await waitFor(() => expect(screen.queryByText(/copy it to change it/)).toBeNull());
    expect(heron.profiles).toEqual([]);
  });
});
