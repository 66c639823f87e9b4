import { act, cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { DerivedRow, QuantityRow } from "../fields/rows";
import { ChangerSchedule } from "../stages/changer/schedule";
import { useDocument } from "../work/document";
import { useSelection } from "../work/selection";
import { clean, heron, machine, opened, play, rackNow } from "./heron";

const quantity = (value: number | null, what = "", unit = "mm") =>
  [200, { value, unit, what, column: 0 }] as [number, unknown];
const field = () => screen.getByLabelText("Pitch") as HTMLInputElement;

function type(text: string) {
  act(() => field().focus());
  fireEvent.change(field(), { target: { value: text } });
}

beforeEach(() => {
  localStorage.clear();
  opened();
});
afterEach(cleanup);

describe("a quantity's field", () => {
  it("shows the number with its decimals and unit, and what it is for when in focus", () => {
    play({});
    render(<QuantityRow label="Pitch" pointer="/changer/rack/pitch" kind="length" />);
    expect(field().value).toBe("58.500");
    expect(screen.getByText("mm")).toBeTruthy();
    act(() => field().focus());
    expect(screen.getByText("From one pocket's axis to the next.")).toBeTruthy();
    expect(useSelection.getState().focus).toBe("/changer/rack/pitch");
  });

  it("shows what was understood of units and sums while one types, and takes it on Enter", async () => {
    const calls = play({
      "POST /api/quantity": () => quantity(58.6),
      "POST /api/preview": () => [200, clean],
      "PUT /api/machines/heron": (body) => [200, { ...machine, document: body.document }],
    });
    render(<QuantityRow label="Pitch" pointer="/changer/rack/pitch" kind="length" />);
    type("58.5 + 0.1");
    await screen.findByText("understood: 58.600 mm");
    fireEvent.keyDown(field(), { key: "Enter" });
    await waitFor(() => expect(rackNow()?.pitch).toBe(58.6));
    await waitFor(() => expect(field().value).toBe("58.600"));
    expect(calls[0]?.body).toEqual({ text: "58.5 + 0.1", kind: "length", unit: "mm" });
    expect(calls.filter((call) => call.path === "/api/quantity")).toHaveLength(1);
  });

  it("asks anew what was refused", async () => {
    const calls = play({ "POST /api/quantity": () => quantity(null, "Too many requests.") });
    render(<QuantityRow label="Pitch" pointer="/changer/rack/pitch" kind="length" />);
    type("61");
    await screen.findByRole("alert");
    fireEvent.keyDown(field(), { key: "Enter" });
    await waitFor(() => expect(calls).toHaveLength(2));
  });

  it("says what is wrong, keeps the text, and gives the old number back on Escape", async () => {
    play({ "POST /api/quantity": () => quantity(null, "Use a point for decimals, not a comma.") });
    render(<QuantityRow label="Pitch" pointer="/changer/rack/pitch" kind="length" />);
    type("58,6");
    fireEvent.keyDown(field(), { key: "Enter" });
    expect((await screen.findByRole("alert")).textContent).toContain("Use a point");
    expect(field().value).toBe("58,6");
    expect(field().getAttribute("aria-invalid")).toBe("true");
    expect(useDocument.getState().document).toBe(heron);
    fireEvent.keyDown(field(), { key: "Escape" });
    expect(field().value).toBe("58.500");
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("tells the server's fault at the field", async () => {
    const faults = [{ where: "/changer/rack/pitch", what: "`pitch` must be above 0 mm; got −3." }];
    play({ "POST /api/quantity": () => quantity(-3), "POST /api/preview": () => [200, { ...clean, faults }] });
    render(<QuantityRow label="Pitch" pointer="/changer/rack/pitch" kind="length" />);
    type("-3");
    fireEvent.keyDown(field(), { key: "Enter" });
    expect((await screen.findByRole("alert")).textContent).toContain("above 0 mm; got −3");
  });

  it("keeps the number where there is no connection", async () => {
    play({ "POST /api/quantity": () => new TypeError("Failed to fetch") });
    render(<QuantityRow label="Pitch" pointer="/changer/rack/pitch" kind="length" />);
    type("58.6");
    fireEvent.keyDown(field(), { key: "Enter" });
    expect((await screen.findByRole("alert")).textContent).toContain("No connection");
    expect(field().value).toBe("58.6");
  });

  it("shows inches on an inch machine", () => {
    play({});
    useDocument.setState({ document: { ...heron, machine: { ...heron.machine, unit: "inch" } } });
    render(<QuantityRow label="Pitch" pointer="/changer/rack/pitch" kind="length" />);
    expect(field().value).toBe("2.3031");
    expect(screen.getByText("in")).toBeTruthy();
  });

  it("is read only for a viewer", () => {
    play({});
    opened(clean, "viewer");
    render(<QuantityRow label="Pitch" pointer="/changer/rack/pitch" kind="length" />);
    expect(field().readOnly).toBe(true);
  });
});

describe("a derived quantity", () => {
  it("opens its working: formula, inputs and rounding; an input leads to where it stands", () => {
    play({});
    render(<DerivedRow name="carry_z" />);
    expect(document.querySelector("[data-derived=carry_z]")?.textContent).toBe("−42.600");
    fireEvent.click(screen.getByRole("button", { name: /Carry/ }));
    const working = document.querySelector(".working")?.textContent ?? "";
    for (const part of [
      "stored top + longest tool + margin",
      "−124.200 mm",
      "longest tool, T5",
      "73.600 mm",
      "8.000 mm",
      "not rounded",
    ])
      expect(working).toContain(part);
    fireEvent.click(screen.getByRole("button", { name: "margin" }));
    expect(useSelection.getState().focus).toBe("/changer/heights/margin");
  });
});

describe("the schedule of the changer", () => {
  it("has every input of the ladder and the coupling, and what follows from them", () => {
    play({});
    render(<ChangerSchedule />, { wrapper: MemoryRouter });
    for (const label of [
      "Datum X",
      "Datum Y",
      "Bearing",
      "Pitch",
      "Pockets in a row",
      "Nose on spacer",
      "Rack sunk by",
      "Stored top",
      "Margin",
    ])
      expect(screen.getByLabelText(label)).toBeTruthy();
    for (const label of [
      "Hover gap",
      "Pocket depth",
      "Park",
      "Thread lead",
      "Engaged thread",
      "Coupling speed",
      "Coupling feed",
      "Dwell",
      "Lift allowed",
    ])
      expect(screen.getByLabelText(label)).toBeTruthy();
    for (const name of [
      "couple_z",
      "hover_z",
      "empty_z",
      "carry_z",
      "riser",
      "greatest_lift",
      "lift",
      "end_lift",
      "ideal_feed",
    ])
      expect(document.querySelector(`[data-derived=${name}]`)?.textContent).toBeTruthy();
    expect(screen.queryByLabelText("Longest tool, planned")).toBeNull();
  });

  it("turns the datum from a pocket to the rack's centre without moving the rack", async () => {
    play({
      "POST /api/preview": () => [200, clean],
      "PUT /api/machines/heron": (body) => [200, { ...machine, document: body.document }],
    });
    render(<ChangerSchedule />, { wrapper: MemoryRouter });
    fireEvent.change(screen.getByLabelText("Datum"), { target: { value: "centre" } });
    await waitFor(() =>
      expect(rackNow()?.datum).toEqual({
        at: "centre",
        x: 128.4 + 4.5 * 58.5,
        y: 1187.5,
      }),
    );
  });

  it("offers a rack where there is none, to those who may add it", async () => {
    const calls = play({
      "POST /api/adding/changer": () => [200, { document: heron, name: "thread-on", says: [] }],
      "POST /api/preview": () => [200, clean],
      "PUT /api/machines/heron": (body) => [200, { ...machine, document: body.document }],
    });
    const bare = { ...heron, changer: null };
    useDocument.setState({ document: bare, base: bare });
    const { rerender } = render(<ChangerSchedule />, { wrapper: MemoryRouter });
    fireEvent.click(screen.getByRole("button", { name: /^Add a thread-on rack/ }));
    await waitFor(() => expect(useDocument.getState().document?.changer).toEqual(heron.changer));
    expect(calls[0]?.path).toBe("/api/adding/changer");
    act(() => {
      opened(clean, "viewer");
      useDocument.setState({ document: bare });
    });
    rerender(<ChangerSchedule />);
    expect(screen.queryByRole("button", { name: /^Add a thread-on rack/ })).toBeNull();
  });
});
