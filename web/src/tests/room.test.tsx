import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Passing, RoomResponse, RoomSearch } from "../api/client";
import { ClearanceMark } from "../drawing/clearance";
import { project, viewsOf } from "../drawing/projection";
import { Closest } from "../findings/closest";
import { exchangeOf } from "../stages/proof/naming";
import ProofStage from "../stages/proof/proof";
import { machine, opened, play, sized } from "./heron";

type Limit = RoomResponse["room"]["less"];

const limit = (by: number, fails: boolean): Limit => ({
  by,
  fails,
  sequence: fails ? exchangeOf(8, 9) : null,
  check: fails ? "body-contact" : null,
  says: fails ? "The spindle nose meets the nut of T9." : "",
  line: fails ? 69 : null,
  at_seconds: fails ? 15.8 : null,
});

const room = (key: string, value: number, less: Limit, more: Limit): RoomResponse => ({
  room: { where: key, key, value, unit: "mm", less, more },
  known: { how: "measured", half_width: 0.05 },
});

const found: RoomSearch = {
  id: 3,
  state: "done",
  done: 184,
  total: 184,
  error: "",
  revision: 1,
  author: "technician",
  started: "2026-11-25T08:00:00Z",
  stale: false,
  rooms: [
    room("/changer/rack/pitch", 58.5, limit(0.038, true), limit(0.031, true)),
    room("/changer/rack/width", 54, limit(50, false), limit(50, false)),
  ],
  findings: [
    {
      check: "room",
      severity: "warn",
      message: "/changer/rack/pitch is known to ± 0.05 mm and has room for 0.031 mm more.",
      line: 69,
      at_seconds: 15.8,
      position: null,
      quantity: "/changer/rack/pitch",
      fix: null,
    },
  ],
};

const passing: Passing = {
  gap: 18.55,
  sideways: 0,
  height: 18.55,
  mover: "the spindle nose",
  body: "the nut of T1 in pocket 1",
  position: [128.4, 1187.5, -116.2],
  body_position: [128.4, 1187.5, -134.75],
  at_seconds: 14.25,
  line: 63,
};

describe("room", () => {
  beforeEach(() => {
    localStorage.clear();
    sized();
    opened();
  });
  afterEach(cleanup);

  const show = (search: RoomSearch | null) => {
    const calls = play({
      "GET /api/machines/heron/proofs/latest": () => [200, null],
      "GET /api/machines/heron/rooms/latest": () => [200, search],
      "POST /api/machines/heron/rooms": () => [200, { ...found, state: "running", done: 12, rooms: [], findings: [] }],
      "POST /api/machines/heron/rooms/3/cancel": () => [200, { ...found, state: "cancelled" }],
      "GET /api/machines/heron": () => [200, machine],
    });
    render(
      <MemoryRouter>
        <ProofStage />
      </MemoryRouter>,
    );
    fireEvent.click(screen.getByRole("button", { name: /^Room/ }));
    return calls;
  };

  it("lists what has least room, with what is known, and marks what is known less closely", async () => {
    show(found);
    const table = within(await screen.findByRole("table", { name: "Room of the quantities" }));
    const row = (name: string) => table.getByText(name).closest("tr");
    expect(row("Pitch")?.nextElementSibling?.textContent).toContain("0.038 mm0.031 mmmeasured ± 0.050");
    expect(row("Pitch")?.querySelector("svg")).toBeTruthy(); // known less closely than it has room
    expect(table.queryByText("Block width")).toBeNull();
    expect(screen.getByText(/is known to ± 0.05 mm/)).toBeTruthy();
    fireEvent.click(screen.getByRole("checkbox", { name: /Also the 1 at which/ }));
    expect(row("Block width")?.nextElementSibling?.textContent).toContain("> 50.000 mm");
    expect(screen.getByText("184 of 184 quantities")).toBeTruthy();
  });

  it("says what to do while there is none, and is started and stopped", async () => {
    const calls = show(null);
    expect(await screen.findByText(/Not searched yet. Press/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Find the room" }));
    expect(await screen.findByText("12 of 184 quantities")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Stop" }));
    await waitFor(() => expect(calls.map((call) => call.path)).toContain("/api/machines/heron/rooms/3/cancel"));
  });

  it("tells what a run passes closest, leads to its moment, and draws the gap there", () => {
    opened();
    const to = project({ x: [0, 800], y: [1000, 1300], z: [-250, 0] }, { width: 900, height: 700, margin: { left: 0, top: 0, right: 0, bottom: 0 }, between: 40, beside: 40 }); // biome-ignore format: one room
    const { container } = render(
      <>
        <Closest passed={[passing]} />
        <svg role="img" aria-label="drawing">
          <ClearanceMark passed={[passing]} {...viewsOf(to)} />
        </svg>
      </>,
    );
    expect(screen.getByRole("region", { name: "Clearance" }).textContent).toContain("18.550 mm in height");
    expect(container.querySelector("[data-clearance]")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "14.3 s · line 63" }));
    const mark = container.querySelector("[data-clearance]");
    expect(mark?.textContent).toBe("18.550 mm"); // in height: once in the front view, a line alone in the side view
    expect(mark?.querySelectorAll("path").length).toBe(2);
  });
});
