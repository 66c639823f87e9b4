/** Stepping a sequence: on to a touch or a line, and with a parameter or an input set by hand. */
import { act, cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, expect, it } from "vitest";
import { AtThisBlock } from "../score/at-block";
import { chooseMeasuring, playImported, playWithoutFault, showProfile, showStage } from "../work/choosing";
import { traceOf, useDocument } from "../work/document";
import { usePlayback } from "../work/playback";
import { useSelection } from "../work/selection";

import { type Call, machine, ofProbing, opened, others, play } from "./heron";

const curlew = others.curlew.document;

const shown = () => screen.getByRole("region", { name: "At this block" });

function played(): Call[] {
  return play({
    "POST /api/preview": () => [200, ofProbing],
    "GET /api/machines/heron": () => [200, machine],
  });
}

beforeEach(() => {
  opened(ofProbing);
  useDocument.setState({ document: curlew, base: curlew });
  useSelection.setState({ stage: "probing", byHand: [] });
  usePlayback.setState({ time: 0, block: 0 });
});
afterEach(cleanup);

it("goes on from touch to touch, and to the end of no further one", () => {
  played();
  render(<AtThisBlock />);
  const trace = traceOf(useDocument.getState());
  const ends = trace?.segments.filter((part) => part.kind === "touch").map((part) => part.end_seconds) ?? [];
  const next = screen.getByRole("button", { name: "Next touch" }) as HTMLButtonElement;
  for (const end of ends) {
    expect(next.disabled).toBe(false);
    fireEvent.click(next);
    expect(usePlayback.getState().time).toBeCloseTo(end, 6);
  }
  expect(next.disabled).toBe(true);
  expect(ends.length).toBeGreaterThan(9);
});

it("runs to a line, and says where that is not run", () => {
  played();
  render(<AtThisBlock />);
  const line = traceOf(useDocument.getState())?.blocks[12]?.line ?? 0;
  const field = screen.getByLabelText("line");
  fireEvent.change(field, { target: { value: `${line}` } });
  fireEvent.click(screen.getByRole("button", { name: "Run" }));
  expect(shown().textContent).toContain(`line ${line}`);
  fireEvent.change(field, { target: { value: "99x99" } });
  fireEvent.submit(field);
  expect(screen.getByText("Line 9999 is not run.")).toBeTruthy();
});

it("sets a parameter and an input by hand, each before the next block, and takes all of it back", async () => {
  const calls = played();
  const asked = () => calls.filter((call) => call.path === "/api/preview").at(-1)?.body.by_hand;
  usePlayback.setState({ block: 7 });
  render(<AtThisBlock />);
  fireEvent.change(screen.getByLabelText("Number of the parameter"), { target: { value: "#139" } });
  fireEvent.change(screen.getByLabelText("Value of the parameter"), { target: { value: "wide" } });
  fireEvent.click(screen.getByRole("button", { name: "Set" }));
  expect(screen.getByRole("alert").textContent).toContain("from 1 to 9999");
  expect(calls.filter((call) => call.path === "/api/preview")).toHaveLength(0);
  fireEvent.change(screen.getByLabelText("Value of the parameter"), { target: { value: "-2.5" } });
  fireEvent.click(screen.getByRole("button", { name: "Set" }));
  await screen.findByText("#139 = -2.5");
  expect(asked()).toEqual([{ after: 8, parameter: 139, input: 0, value: -2.5 }]);
  const probe = curlew.inputs.find((entry) => entry.name === "touch probe");
  fireEvent.change(screen.getByLabelText("Set by hand", { selector: "select" }), {
    target: { value: `input ${probe?.number}` },
  });
  fireEvent.change(screen.getByLabelText("State of the input"), { target: { value: "idle" } });
  fireEvent.click(screen.getByRole("button", { name: "Set" }));
  await screen.findByText("touch probe idle");
  expect(asked()).toHaveLength(2);
  expect(usePlayback.getState().block).toBe(7);
  fireEvent.click(screen.getByRole("button", { name: "Undo all of it" }));
  await waitFor(() => expect(asked()).toEqual([]));
  expect(screen.queryByRole("list", { name: "Set by hand" })).toBeNull();
});

it("forgets what was set by hand where something else is played", async () => {
  played();
  const hand = [{ after: 3, parameter: 139, input: 0, value: 1 }];
  const others: (() => Promise<void>)[] = [
    () => chooseMeasuring({ routine: "frame top" }),
    () => playImported({ file: "mine.nc", text: "G21" }),
    () => showProfile("plain words"),
    () => showStage("exchange"),
    () => playWithoutFault(),
  ];
  for (const other of others) {
    act(() => useSelection.setState({ byHand: hand }));
    await act(other);
    expect(useSelection.getState().byHand).toEqual([]);
  }
});
