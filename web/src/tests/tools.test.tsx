/** The Tools stage: the table filtered, sorted and set for several, a tool's page, a length worked out by hand; a value that is
 * typed twice. */
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Tool, ToolPageAnswer } from "../api/client";
import { learn } from "../api/query";
import { QuantityRow } from "../fields/rows";
import { useLive } from "../live/live";
import { AxisTable, withValue } from "../stages/machine/axis-table";
import { useChosen } from "../stages/tools/chosen";
import ToolsStage from "../stages/tools/tools";
import { useDocument } from "../work/document";
import { undo } from "../work/editing";
import { type Call, clean, heron, machine, opened, play, reading, sized } from "./heron";

const page: ToolPageAnswer = {
  cutting: {
    speed: 13262.9,
    surface_speed: 500,
    feed: 3581,
    chip_load: 0.09,
    computed: ["speed", "feed"],
    says: ["Too fast."],
  },
  keeping: { each: 11.5, loose: 206, collar: 11.5, slips: true },
  scatter: null,
  unused: null,
  worn: false,
};
const SQUARE = [
  [6, 18],
  [6, 69],
  [-6, 69],
  [-6, 18],
];

const routes = (more: Parameters<typeof play>[0] = {}) =>
  play({
    "POST /api/preview": () => [200, clean],
    "POST /api/quantity": (body: Call["body"]) => [200, { value: Number(body.text), unit: "mm", what: "", column: 0 }],
    "PUT /api/machines/heron": (body: Call["body"]) => [200, { ...machine, document: body.document as never }],
    "POST /api/tools/outlines": (body: Call["body"]) => [
      200,
      (body.tools as Tool[]).map((tool) => ({ tool: tool.number, points: SQUARE })),
    ],
    "POST /api/tools/page": (body: Call["body"]) => {
      const tool = (body.document as typeof heron).tools.find((entry) => entry.number === body.tool) as Tool;
      const whole = tool.length + (tool.wear ?? 0);
      return [200, { ...page, unused: tool.in_use != null && tool.in_use !== whole ? whole - tool.in_use : null }];
    },
    "POST /api/machines/heron/readings": (body: Call["body"]) => [
      200,
      {
        reading: reading({
          pointer: String(body.quantity),
          value: Number(body.value),
          source: "typed",
          says: String(body.how),
        }),
      },
    ],
    ...more,
  });

const stage = () =>
  render(
    <MemoryRouter>
      <ToolsStage />
    </MemoryRouter>,
  );
const tool = (number: number) =>
  useDocument.getState().document?.tools.find((entry) => entry.number === number) as Tool;
const rows = () =>
  screen.getAllByLabelText(/^T\d+ name$/).map((field) => field.getAttribute("aria-label")?.split(" ")[0]);
const enter = (label: string, text: string) => {
  const field = screen.getByLabelText(label);
  fireEvent.change(field, { target: { value: text } });
  fireEvent.keyDown(field, { key: "Enter" });
};

beforeEach(() => {
  localStorage.clear();
  sized();
  opened(clean);
  useChosen.setState({ chosen: 1 });
  learn(["readings", "heron"], []);
});
afterEach(cleanup);

const understood = (body: Call["body"]): [number, unknown] => [
  200,
  (body.every as { text: string }[]).map(({ text }) =>
    Number.isFinite(Number(text))
      ? { value: Number(text), unit: "mm", what: "", column: 0 }
      : { value: null, unit: "mm", what: `“${text}” is no length.`, column: 0 },
  ),
];

const pastedAt = (label: string, text: string) =>
  fireEvent.paste(screen.getByLabelText(label), { clipboardData: { getData: () => text } });

describe("a block from a spreadsheet", () => {
  it("goes over rows and columns as one edit; a bad cell is reported where it is, what does not fit as well", async () => {
    const calls = routes({ "POST /api/quantities": understood });
    stage();
    const [one, two] = heron.tools as [Tool, Tool];
    pastedAt(`T${one.number} diameter`, "7.5\t101\nabc\t102\n");
    await screen.findByText(/3 of 4 cells pasted. 1 not/);
    expect([tool(one.number).diameter, tool(one.number).length, tool(two.number).length]).toEqual([7.5, 101, 102]);
    expect(tool(two.number).diameter).toBe(two.diameter);
    expect(tool(one.number).in_use).toBe(one.length);
    expect(screen.getByLabelText<HTMLInputElement>(`T${two.number} diameter`).value).toBe("abc");
    expect(Object.values(useDocument.getState().drafts)[0]?.refused).toBe("“abc” is no length.");
    expect(calls.filter((call) => call.path === "/api/quantities")).toHaveLength(1);
    await undo();
    expect(tool(one.number)).toEqual(one);
    const last = heron.tools.at(-1) as Tool;
    pastedAt(`T${last.number} name`, "long drill\nlost one");
    await screen.findByText(/Outside the table, not pasted: lost one/);
    expect(tool(last.number).name).toBe("long drill");
  });

  it("leaves out what the server refuses, with its reason, and keeps all where there is no connection", async () => {
    const [one, two] = heron.tools as [Tool, Tool];
    const where = `/tools/1/diameter`;
    const preview = (body: Call["body"]): [number, unknown] => {
      const bad = (body.document as typeof heron).tools[1]?.diameter === 900;
      return [200, bad ? { ...clean, faults: [{ where, what: "`diameter` is too large." }], derived: null } : clean];
    };
    routes({ "POST /api/quantities": understood, "POST /api/preview": preview });
    stage();
    pastedAt(`T${one.number} diameter`, "7.5\n900");
    await screen.findByText(/1 of 2 cells pasted/);
    expect([tool(one.number).diameter, tool(two.number).diameter]).toEqual([7.5, two.diameter]);
    expect(Object.values(useDocument.getState().drafts)[0]).toMatchObject({
      text: "900",
      refused: "`diameter` is too large.",
    });
    routes({ "POST /api/quantities": () => new Error("no network") });
    pastedAt(`T${one.number} diameter`, "8\n9");
    await screen.findByText(/No connection to the server; the cells are kept/);
    expect(Object.values(useDocument.getState().drafts).map((draft) => draft.text)).toEqual(
      expect.arrayContaining(["8", "9"]),
    );
  });
});

describe("a block over the table of the axes", () => {
  it("goes over lines and axes; what is worked out takes none; one end of what is measured takes the data sheet's other", async () => {
    routes({ "POST /api/quantities": understood });
    render(<AxisTable />);
    pastedAt("X data sheet to", "801\t1201");
    await screen.findByText("2 of 2 cells pasted.");
    const axes = () => useDocument.getState().document?.machine.axes;
    expect([axes()?.X.greatest, axes()?.Y.greatest]).toEqual([801, 1201]);
    pastedAt("Y margin", "2\t3\n55\t56");
    await screen.findByText(/2 of 2 cells pasted. Outside the table, not pasted: 55, 56/);
    expect([axes()?.X.margin, axes()?.Y.margin, axes()?.Z.margin]).toEqual([heron.machine.axes.X.margin, 2, 3]);
    const { X } = { ...heron.machine.axes, X: { ...heron.machine.axes.X, measured: null } };
    expect(withValue({ ...heron.machine.axes, X }, "X/measured/least", 4).X.measured).toEqual({
      least: 4,
      greatest: X.greatest,
    });
  });
});

describe("the table", () => {
  it("is filtered and sorted, and reported where nothing is left", () => {
    routes();
    stage();
    fireEvent.change(screen.getByLabelText("Filter the tools"), { target: { value: "drill" } });
    expect(rows()).toEqual(["T5", "T6"]);
    fireEvent.click(screen.getByRole("button", { name: /^Length, mm/ }));
    expect(rows()).toEqual(["T6", "T5"]);
    expect(screen.getByRole("columnheader", { name: /^Length/ }).getAttribute("aria-sort")).toBe("ascending");
    fireEvent.change(screen.getByLabelText("Filter the tools"), { target: { value: "reamer" } });
    fireEvent.click(screen.getByRole("button", { name: "Show all 8" }));
    expect(rows()).toHaveLength(8);
  });

  it("sets one value for several in one step that is taken back as one", async () => {
    routes();
    stage();
    fireEvent.click(screen.getByLabelText("Choose T1"));
    fireEvent.click(screen.getByLabelText("Choose T3"));
    const bar = screen.getByRole("region", { name: "Several tools" });
    fireEvent.change(within(bar).getByLabelText("What to set"), { target: { value: "flutes" } });
    fireEvent.change(within(bar).getByLabelText("Value for all of them"), { target: { value: "4" } });
    fireEvent.click(within(bar).getByRole("button", { name: "Set for all" }));
    await waitFor(() => expect([tool(1).flutes, tool(3).flutes, tool(2).flutes]).toEqual([4, 4, 3]));
    await undo();
    expect([tool(1).flutes, tool(3).flutes]).toEqual([3, 2]);
  });

  it("draws of five hundred rows those that are seen, and the one that is worked in", () => {
    routes();
    const many = Array.from({ length: 500 }, (_, at) => ({
      ...(heron.tools[0] as Tool),
      number: at + 1,
      pocket: null,
    }));
    useDocument.setState({ document: { ...heron, tools: many } });
    useChosen.setState({ chosen: 400 });
    const { container } = stage();
    expect(rows().length).toBeLessThan(60);
    expect(rows()).toContain("T401");
    expect(container.querySelectorAll("[data-outline]")).toHaveLength(12);
  });
});

describe("a tool's page", () => {
  it("draws its dimensions, and names the one in focus", async () => {
    routes();
    const { container } = stage();
    expect(container.querySelector("[data-dimension=cutting_length]")?.getAttribute("data-now")).toBe("false");
    fireEvent.focus(screen.getByLabelText("Cutting length"));
    await waitFor(() =>
      expect(container.querySelector("[data-dimension=cutting_length]")?.getAttribute("data-now")).toBe("true"),
    );
  });

  it("keeps what was entered of a pair, and the other one follows", async () => {
    routes();
    stage();
    const speed = (await screen.findByLabelText("Speed, follows")) as HTMLInputElement;
    expect(speed.value).toBe("13\u202f263");
    enter("Speed, follows", "12000");
    await waitFor(() => expect(tool(2).cutting).toMatchObject({ speed: 12000, surface_speed: null, chip_load: 0.09 }));
    expect(await screen.findByText("Too fast.")).toBeTruthy();
  });

  it("marks a changed length until the program that renews it has run", async () => {
    routes();
    const { container } = stage();
    enter("Measured length", "70");
    await waitFor(() => expect(tool(2)).toMatchObject({ length: 70, in_use: 69.12, wear: -0.03 }));
    await waitFor(() => expect(container.querySelectorAll("[data-unused='2']")).toHaveLength(2));
    fireEvent.click(screen.getByRole("button", { name: "It has run" }));
    await waitFor(() => expect(container.querySelector("[data-unused]")).toBeNull());
  });

  it("takes the mark off by itself when the machine tells that it goes by the length", async () => {
    routes();
    useLive.setState({
      reported: { execution: "READY", part: {}, offset: 1 } as never,
      send: async () => ({ pages: { lengths: {}, parameters: {}, active: { tool: 2, length: 70 } } }),
    });
    const { container } = stage();
    enter("Measured length", "70.03");
    await waitFor(() => expect(tool(2)).toMatchObject({ length: 70.03, in_use: 70 }));
    await waitFor(() => expect(container.querySelector("[data-unused]")).toBeNull());
    await undo(); // not done again at once: the length before can be reached
    await undo();
    expect(tool(2)).toMatchObject({ length: 69.15 });
    useLive.setState({ reported: null });
  });

  it("folds wear into the length and sets it to zero in the same step", async () => {
    routes();
    stage();
    fireEvent.click(screen.getByRole("button", { name: "Fold the wear into the length" }));
    await waitFor(() => expect(tool(2).wear).toBe(0));
    expect(tool(2).length).toBeCloseTo(69.12, 9);
    expect(useDocument.getState().done).toHaveLength(1);
    await undo();
    expect(tool(2)).toMatchObject({ length: 69.15, wear: -0.03 });
  });

  it("stacks cylinders for its holder", async () => {
    routes();
    stage();
    fireEvent.click(screen.getByRole("button", { name: "Cylinder" }));
    await waitFor(() => expect(tool(2).holder).toEqual([{ diameter: 40, length: 30 }]));
    fireEvent.click(screen.getByRole("button", { name: "Remove cylinder 1" }));
    await waitFor(() => expect(tool(2).holder).toEqual([]));
  });
});

describe("a length by hand", () => {
  it("shows the sum with its signs and takes it as a reading", async () => {
    const calls = routes({
      "POST /api/tools/worksheet": () => [
        200,
        {
          length: 69.05,
          off: -0.07,
          how: "against T1: readout 10.85, shim 0.1 mm",
          says: ["Work offset 2 is active."],
          terms: [
            { name: "length of T1", value: 58.3, sign: 1 },
            { name: "readout", value: 10.85, sign: 1 },
            { name: "shim", value: 0.1, sign: -1 },
          ],
        },
      ],
    });
    stage();
    fireEvent.click(screen.getByRole("button", { name: "A length by hand" }));
    enter("shim", "0.1");
    enter("the readout shows", "10.85");
    expect(await screen.findByText("Work offset 2 is active.")).toBeTruthy();
    const asked = calls.find((call) => call.path === "/api/tools/worksheet" && call.body.shim === 0.1);
    expect(asked?.body).toMatchObject({ way: "difference", tool: 2, reference: 1, value: 10.85 });
    fireEvent.click(screen.getByRole("button", { name: "Take it as the length" }));
    await waitFor(() => expect(tool(2)).toMatchObject({ length: 69.05, wear: 0 }));
    expect(calls.find((call) => call.path.endsWith("/readings"))?.body).toMatchObject({
      how: expect.stringContaining("against T1"),
    });
  });
});

describe("a value that every length depends on", () => {
  it("is typed twice, and left as it was where the two differ or Escape is pressed", async () => {
    routes();
    render(<QuantityRow label="Plane height" pointer="/setters/0/plane_z" kind="length" twice />);
    const plane = () => useDocument.getState().document?.setters[0]?.plane_z;
    enter("Plane height", "-120");
    expect(await screen.findByLabelText("Plane height, second entry")).toBeTruthy();
    expect(plane()).toBe(-124.2);
    enter("Plane height, second entry", "-121");
    expect((await screen.findByRole("alert")).textContent).toContain("The two differ");
    enter("Plane height, second entry", "-120");
    await waitFor(() => expect(plane()).toBe(-120));
    enter("Plane height", "-100");
    fireEvent.keyDown(await screen.findByLabelText("Plane height, second entry"), { key: "Escape" });
    await waitFor(() => expect(screen.queryByLabelText("Plane height, second entry")).toBeNull());
    expect(plane()).toBe(-120);
    enter("Plane height", "-90");
    expect(await screen.findByLabelText("Plane height, second entry")).toBeTruthy();
    useDocument.setState({ slug: "plover" }); // what was typed for one machine is not asked for at another
    await waitFor(() => expect(screen.queryByLabelText("Plane height, second entry")).toBeNull());
  });
});
