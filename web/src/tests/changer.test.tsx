/** The Changer stage beside its sheet: tuning, threads, a layout from a drawing, after a stop, and the schedules of the styles. */
import { act, cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Setup } from "../api/client";
import { useLive } from "../live/live";
import { LayoutIn } from "../stages/changer/layout";
import { RecoveryView } from "../stages/changer/recovery";
import { ChangerSchedule } from "../stages/changer/schedule";
import { MachineSchedule } from "../stages/machine/schedule";
import { ProbeSchedule } from "../stages/probes/schedule";
import { RoutineSchedule } from "../stages/routines/schedule";
import { SetterSchedule } from "../stages/setter/schedule";
import { ToolPage } from "../stages/tools/tool-page";
import { useDocument } from "../work/document";
import { known } from "../work/known";
import { clean, heron, machine, opened, others, play, rackNow, sized } from "./heron";

const THREADS = [
  { name: "M20 x 1.5, fine", lead: 1.5, engaged_length: 9, nut_diameter: 28, hole_diameter: 16, speed_cap: 1800 },
];
const routes = (more: Parameters<typeof play>[0] = {}) =>
  play({
    "POST /api/preview": () => [200, clean],
    "PUT /api/machines/heron": (body) => [200, { ...machine, document: body.document }],
    "POST /api/quantity": (body) => [200, { value: Number(body.text), says: "", what: "" }],
    "GET /api/threads": () => [200, THREADS],
    ...more,
  });
const coupling = () => {
  const changer = useDocument.getState().document?.changer;
  return changer?.style === "thread-on" ? changer.coupling : undefined;
};
const show = (setup: Setup, answer = clean, role: "supervisor" | "technician" | "viewer" = "technician") => {
  opened(answer, role);
  act(() => useDocument.setState({ document: setup, base: setup }));
};

beforeEach(() => {
  localStorage.clear();
  sized();
});
afterEach(cleanup);

describe("the coupling's tuning", () => {
  it("keeps what the nut did at each feed, and takes the corrected one", async () => {
    routes();
    show(heron);
    render(<ChangerSchedule />, { wrapper: MemoryRouter });
    const section = within(screen.getByRole("region", { name: "Tuning of the coupling" }));
    const field = section.getByRole("textbox", { name: "What the nut did" });
    fireEvent.change(field, { target: { value: "0.8" } });
    fireEvent.keyDown(field, { key: "Enter" });
    await waitFor(() => expect((field as HTMLInputElement).value).toContain("0.8"));
    fireEvent.click(section.getByRole("button", { name: "Note it" }));
    await waitFor(() => expect(coupling()?.tuning).toEqual([{ feed: 1450, speed: 1160, lift: 0.8 }]));
    expect(coupling()?.observed_lift).toBe(0.8);
    expect(document.querySelector("[data-try='1'] circle")?.getAttribute("fill")).toBe("var(--stop)");
    fireEvent.click(await section.findByRole("button", { name: /^Use the corrected feed/ }));
    await waitFor(() => expect(coupling()?.observed_lift).toBeNull());
    expect(coupling()?.feed).toBe(clean.derived?.workings.corrected_feed?.value);
    expect(coupling()?.tuning).toHaveLength(1);
    fireEvent.click(section.getByRole("button", { name: "Start over" }));
    await waitFor(() => expect(coupling()?.tuning).toEqual([]));
  });

  it("takes a thread's sizes from the library, and keeps its own", async () => {
    routes();
    show(heron);
    render(<ChangerSchedule />, { wrapper: MemoryRouter });
    fireEvent.click(await screen.findByRole("button", { name: "Keep this thread in the library" }));
    await waitFor(() => expect(useDocument.getState().document?.threads?.[0]?.name).toBe("lead 1.25, nut 27"));
    fireEvent.change(screen.getByLabelText("Thread"), { target: { value: "M20 x 1.5, fine" } });
    await waitFor(() => expect(coupling()?.lead).toBe(1.5));
    expect([coupling()?.nut_diameter, coupling()?.feed]).toEqual([28, 1450]);
  });
});

describe("a layout from a drawing", () => {
  const layer = {
    name: "HOLES",
    marks: [
      { x: 0, y: 0, diameter: 20 },
      { x: 60, y: 1, diameter: 20 },
      { x: 30, y: 40, diameter: 20 },
    ],
    orders: { "as drawn": [0, 1, 2], "along X": [0, 2, 1], "along Y": [0, 1, 2], "row by row": [0, 1, 2] },
  };
  const open = async () => {
    render(<LayoutIn />);
    const file = Object.assign(new File([""], "a.dxf"), { text: async () => "0\nSECTION" });
    fireEvent.change(screen.getByLabelText("DXF with the layout"), { target: { files: [file] } });
  };

  it("becomes taught pockets in the order that one chooses and changes", async () => {
    routes({ "POST /api/layout": () => [200, [layer]] });
    show(heron);
    await open();
    const list = within(await screen.findByRole("list", { name: "Pockets in their order" }));
    expect(list.getAllByRole("listitem").map((item) => item.textContent)).toEqual(
      ["1", "2", "3"].map((n, i) =>
        expect.stringContaining(n + ["0.000, 0.000", "30.000, 40.000", "60.000, 1.000"][i]),
      ),
    );
    fireEvent.click(screen.getByRole("button", { name: "Pocket 3 earlier" }));
    fireEvent.click(screen.getByRole("button", { name: "Use these 3 pockets" }));
    await waitFor(() => expect(rackNow()?.single_positions).toBe(true));
    expect(rackNow()?.count).toBe(3);
    expect(rackNow()?.taught?.map(({ pocket, x }) => [pocket, x])).toEqual([
      [1, 0],
      [2, 60],
      [3, 30],
    ]);
  });

  it("asks for the unit where the drawing states none", async () => {
    const calls = routes({
      "POST /api/layout": (body) =>
        body.unit === "inch"
          ? [200, [layer]]
          : [
              422,
              {
                message: "",
                faults: [{ where: "/unit", what: "The drawing states neither millimetres nor inches; say which." }],
              },
            ],
    });
    show(heron);
    await open();
    fireEvent.click(await screen.findByRole("button", { name: "It is in inches" }));
    expect(await screen.findByRole("list", { name: "Pockets in their order" })).toBeTruthy();
    expect(calls.filter((call) => call.path === "/api/layout").map((call) => call.body.unit)).toEqual([
      "as stated",
      "inch",
    ]);
  });
});

describe("after a stop", () => {
  const found = (holds: number | null, pockets: number[][] = []) => ({ holds, pockets });
  const sheet = {
    record: { of_tool: ["#160 = {tool}", "#161 = 0"], of_pocket: "#[500 + {pocket}] = {tool}" },
    stretches: [
      { lines: [2, 3], record: 2, doubtful: false, found: [found(2)], says: "T2 is in the spindle.", out: [] },
      {
        lines: [4],
        record: 2,
        doubtful: true,
        found: [found(null), found(9, [[2, 2]])],
        says: "Either one, or the other: look.",
        out: ["Jog Z straight up."],
      },
    ],
  };
  const reported = (line: number) => ({ reported: { line, block: "M11" } as never });

  it("has a row for each stretch; a line is picked, looked at, and the record is set at the machine", async () => {
    const sent: unknown[] = [];
    routes({ "POST /api/recovery": () => [200, sheet] });
    show(heron);
    act(() =>
      useLive.setState({
        ...reported(4),
        send: async (command) => {
          sent.push(command);
          return {};
        },
      }),
    );
    render(<RecoveryView />);
    fireEvent.click(await screen.findByRole("button", { name: /^The machine's block is line 4/ }));
    expect(screen.getByText("Jog Z straight up.")).toBeTruthy();
    expect((screen.getByLabelText("Seen in the spindle") as HTMLSelectElement).value).toBe("9");
    expect(document.querySelector("[data-keyed]")?.textContent).toBe("#160 = 9\n#161 = 0\n#[500 + 2] = 2");
    expect(screen.getByText(/taken out by hand/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Set it at the machine" }));
    expect((await screen.findByRole("status")).textContent).toBe("Set: in the spindle is T9.");
    expect(sent).toEqual([{ do: "settle", number: 9, pockets: { "2": 2 } }]);
    fireEvent.click(screen.getByRole("button", { name: "Apply to the pocket table" }));
    await waitFor(() => expect(screen.getByRole("status").textContent).toBe("The pocket table has it."));
    expect(useDocument.getState().document?.tools.find((tool) => tool.number === 2)?.pocket).toBe(2);
    fireEvent.change(screen.getByLabelText("Seen in the spindle"), { target: { value: "5" } });
    expect(screen.getByText(/does not fit this line/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "2 to 3" }));
    expect(document.querySelector("[data-keyed]")?.textContent).toBe("#160 = 2\n#161 = 0");
  });

  it("says why there is no sheet", async () => {
    routes({
      "POST /api/recovery": () => [422, { message: "", faults: [{ where: "/to", what: "T9 has no pocket." }] }],
    });
    show(heron);
    render(<RecoveryView />);
    expect(await screen.findByText("/to: T9 has no pocket.")).toBeTruthy();
  });
});

const Machine = () => <MachineSchedule onWay={() => {}} onProfile={() => {}} />;

/** Labels that say where a quantity stands, beside others of its name. */
const OF_PLACE = /^\d+\. [XYZ]$|^Bore \d+, |^Touches |^Tip, nominal$|^Its diameter$/;

describe("the quantities of all schedules", () => {
  it.each(["heron", "curlew", "plover", "godwit", "knot"] as const)(
    "of %s are called as findings call them",
    (name) => {
      routes();
      if (name !== "heron") show(others[name].document, others[name].answer);
      const found: string[] = [];
      for (const Stage of [ChangerSchedule, SetterSchedule, ProbeSchedule, RoutineSchedule, Machine, ToolPage]) {
        const { container } = render(<Stage />, { wrapper: MemoryRouter });
        for (const row of container.querySelectorAll<HTMLElement>("[data-quantity]")) {
          const label = row.querySelector("label")?.textContent ?? "";
          const called = known(row.dataset.quantity ?? "")?.name;
          if (label !== called && !OF_PLACE.test(label)) found.push(`${label}, not ${called}: ${row.dataset.quantity}`);
        }
        cleanup();
      }
      expect(found).toEqual([]);
    },
  );
});

describe("the schedules of the styles", () => {
  it.each([
    [
      "plover",
      ["Exchange place X", "Swing", "Turn word", "Knob above gauge line", "Angle"],
      ["Lead-in", "Feed into a fork", "Stored top"],
    ],
    ["godwit", ["Arm reach", "Arm stroke", "Tools"], ["Swing", "Hover gap"]],
    [
      "curlew",
      ["Lead-in", "Groove diameter", "Stored top", "Half a turn off is allowed"],
      ["Thread lead", "Exchange place X"],
    ],
    [
      "knot",
      ["Exchange place X", "Room below the nose", "Axes go in this order"],
      ["Hover gap", "Knob above gauge line"],
    ],
  ] as const)("of %s has what it wants and nothing of another", (name, has, hasNot) => {
    routes();
    show(others[name].document, others[name].answer);
    render(<ChangerSchedule />, { wrapper: MemoryRouter });
    for (const label of has) expect(screen.getAllByLabelText(label, { exact: true }).length, label).toBe(1);
    for (const label of hasNot) expect(screen.queryByLabelText(label, { exact: true }), label).toBeNull();
    expect(screen.getByRole("list", { name: "Signals by role" }).children.length).toBeGreaterThan(0);
  });

  it("are changed for another style by a supervisor only, who is asked first", async () => {
    routes();
    show(heron, clean, "technician");
    const { rerender } = render(<ChangerSchedule />, { wrapper: MemoryRouter });
    expect(screen.queryByRole("button", { name: "Another style of changer" })).toBeNull();
    show(heron, clean, "supervisor");
    rerender(<ChangerSchedule />);
    fireEvent.click(screen.getByRole("button", { name: "Another style of changer" }));
    expect(useDocument.getState().document?.changer).not.toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Take the changer out" }));
    await waitFor(() => expect(useDocument.getState().document?.changer).toBeNull());
    expect(screen.getAllByRole("button", { name: /^Add / })).toHaveLength(6);
  });
});
