/** The Probes and Routines stages: drawn to scale, qualified, run, summed, and what is found set. */
import { act, cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Setup } from "../api/client";
import { learn } from "../api/query";
import { useLive } from "../live/live";
import { TextFixes, withFix } from "../program/text-fixes";
import { KINDS } from "../routines";
import { Feeds } from "../stages/probes/feeds";
import ProbesStage from "../stages/probes/probes";
import { QualifyView } from "../stages/probes/qualify";
import { useTaken } from "../stages/probes/taken";
import { ResultView } from "../stages/routines/result";
import { bounds, numberAt, roomOf } from "../stages/routines/room";
import RoutinesStage from "../stages/routines/routines";
import { RoutineSchedule } from "../stages/routines/schedule";
import { UnderFaults } from "../stages/routines/under-faults";
import { InTheAir } from "../touching/air";
import { axesOf, means, type Place, useTouches, xyz } from "../touching/touches";
import { useDocument } from "../work/document";
import { useSelection } from "../work/selection";
import { type Call, machine, ofProbing, ofTouches, opened, others, play, reading, sized, textShown } from "./heron";

const curlew = others.curlew.document;
const probing = ofProbing.probing as NonNullable<typeof ofProbing.probing>;

const routes = (more: Parameters<typeof play>[0] = {}) =>
  play({
    "POST /api/preview": () => [200, ofProbing],
    "GET /api/machines/heron/routines/results": () => [200, []],
    "POST /api/quantity": (body: Call["body"]) => [200, { value: Number(body.text), unit: "mm", what: "", column: 0 }],
    "PUT /api/machines/heron": (body: Call["body"]) => [200, { ...machine, document: body.document as never }],
    ...more,
  });

/** The commands that were sent to the machine; `pages` is what its control shows. */
function atMachine(pages: object): Record<string, unknown>[] {
  const sent: Record<string, unknown>[] = [];
  useLive.setState({
    reported: { execution: "READY", position: {}, part: {}, dials: {}, inputs: {}, outputs: {} } as never,
    send: async (command) => {
      sent.push(command);
      return command.do === "pages" ? { pages: { lengths: {}, parameters: {}, ...pages } } : {};
    },
  });
  return sent;
}

beforeEach(() => {
  localStorage.clear();
  sized(760, 460);
  Element.prototype.scrollIntoView = () => {};
  opened(ofProbing);
  useDocument.setState({ document: curlew, base: curlew });
  useSelection.setState({ stage: "probing" });
  useTouches.setState({ places: {} });
  useTaken.setState({ heights: {}, places: {}, turned: {} });
  useLive.setState({ reported: null });
});
afterEach(cleanup);

describe("a routine", () => {
  it("is drawn with its touches in their order, and its dimensions editable where they stand", async () => {
    routes();
    const { container } = render(<RoutinesStage />);
    const numbers = [...container.querySelectorAll("[data-touch]")].map((touch) => touch.getAttribute("data-touch"));
    expect(numbers).toEqual(["1", "2", "3", "4", "5"]);
    for (const name of [/^clearance, 12.000, edit/, /^depth, 5.000, edit/, /^search begins before, 8.000, edit/])
      expect(screen.getByRole("button", { name })).toBeTruthy();
    expect(within(screen.getByRole("list", { name: "What it needs" })).getAllByRole("listitem")).toHaveLength(
      probing.needs.length,
    );
    expect(await textShown()).toContain("G68 X0 Y0 R");
  });

  it("keeps its touches within the room, and their numbers off them", () => {
    const found = bounds(probing.aims, { x: 380, y: 240, z: -360 }, probing.clear_z, probing.tip_radius);
    const to = roomOf(found, { width: 700, height: 420 });
    for (const aim of probing.aims) {
      expect(to.atX(aim.begins.x)).toBeGreaterThan(0);
      expect(to.atY(aim.begins.y)).toBeGreaterThanOrEqual(to.planTop);
      expect(to.atY(aim.begins.y)).toBeLessThanOrEqual(to.planBottom);
      expect(to.atZ(aim.meets.z)).toBeLessThanOrEqual(to.frontBottom + 1e-6);
      const [x, y] = numberAt(aim, probing.tip_radius, to);
      expect(Math.hypot(x - to.atX(aim.meets.x), y - to.atY(aim.meets.y))).toBeGreaterThan(9);
    }
    expect(to.planBottom).toBeLessThan(to.frontTop);
  });

  it("of every kind can be added, and each brings what the server takes", async () => {
    expect(KINDS.map((kind) => kind.kind).sort()).toEqual([...new Set(curlew.routines.map((r) => r.kind))].sort());
    const calls = routes();
    render(<RoutineSchedule />);
    fireEvent.change(screen.getByLabelText("Add a routine"), { target: { value: "bore" } });
    await waitFor(() => expect(useDocument.getState().document?.routines.at(-1)?.kind).toBe("bore"));
    expect(useDocument.getState().document?.routines.at(-1)).toMatchObject({ probe: "touch probe", diameter: 40 });
    await waitFor(() =>
      expect(calls.filter((call) => call.path === "/api/preview").at(-1)?.body).toMatchObject({ routine: "bore" }),
    );
    for (const kind of KINDS) {
      const made = kind.template(curlew, "x", "touch probe") as unknown as Record<string, unknown>;
      const like = curlew.routines.find((entry) => entry.kind === kind.kind) as unknown as Record<string, unknown>;
      expect(Object.keys(made).sort(), kind.kind).toEqual(Object.keys(like).sort());
      for (const { field } of kind.fields) expect(made, kind.kind).toHaveProperty(field);
    }
  });

  it("has no limit until one is set, and none again when it is taken away", async () => {
    routes();
    const index = curlew.routines.findIndex((entry) => entry.name === "frame corner");
    render(<RoutineSchedule />);
    fireEvent.click(screen.getByRole("button", { name: "Place may be off by: no limit" }));
    await waitFor(() => expect(useDocument.getState().document?.routines[index]?.place_tolerance).toBeNull());
    fireEvent.click(await screen.findByRole("button", { name: "Place may be off by: no limit, set it" }));
    await waitFor(() => expect(useDocument.getState().document?.routines[index]?.place_tolerance).toBe(5));
  });

  it("has a text for each touch where the control can't do the sums", () => {
    opened(ofTouches);
    useDocument.setState({ document: curlew, base: curlew });
    routes();
    render(<RoutinesStage />);
    const texts = within(screen.getByRole("region", { name: "Texts of the touches" }));
    expect(texts.getAllByRole("listitem")).toHaveLength(2);
    expect(texts.getAllByRole("button").map((button) => button.textContent)).toEqual([
      "curlew-glazing-slot-1.nc",
      "curlew-glazing-slot-2.nc",
    ]);
  });

  it("is run under every fault, and a cell plays it", async () => {
    const came = (verdict: string) => ({
      worst: null,
      findings: [],
      seconds: 9,
      faults: [{ fault: "in-the-way", verdict, says: "The tip meets a ledge." }],
    });
    const calls = routes({
      "POST /api/routines/proof": (body: Call["body"]) => [
        200,
        { routine: body.routine, ...came(body.routine === "frame rib" ? "unsafe" : "safe") },
      ],
    });
    let played = 0;
    render(<UnderFaults onPlay={() => played++} />);
    fireEvent.click(screen.getByRole("button", { name: "Run it" }));
    await screen.findByRole("button", { name: "Run it again" });
    expect(within(screen.getByRole("list", { name: "Not safe" })).getByText(/frame rib: The tip meets/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: /^frame rib, in-the-way/ }));
    await waitFor(() =>
      expect(calls.filter((call) => call.path === "/api/preview").at(-1)?.body).toMatchObject({
        routine: "frame rib",
        fault: "in-the-way",
      }),
    );
    expect(played).toBe(1);
  });
});

describe("a result", () => {
  const summed = {
    routine: "frame corner",
    quantities: [
      {
        name: "x",
        unit: "mm",
        value: 381.2,
        expected: 380,
        off: 1.2,
        half_width_95: 0.004,
        shares: [],
        allowed: 8,
        fits: true,
      },
      {
        name: "turn",
        unit: "°",
        value: 0.4,
        expected: 0,
        off: 0.4,
        half_width_95: 0.01,
        shares: [],
        allowed: null,
        fits: true,
      },
    ],
    touches: probing.aims.map((aim, index) => ({ name: aim.name, off: index / 10 })),
    zero: { x: 381.2, y: 240.5 },
    line: "G10 L2 P1 X381.2 Y240.5",
    says: "",
  };

  it("takes the touches of the machine only where the part of this routine lies there", async () => {
    const touches = probing.aims.map((aim) => xyz(aim.stands));
    atMachine({ touches, lies: "another one" });
    const calls = routes({ "POST /api/routines/result": () => [200, summed] });
    render(<ResultView />);
    const take = () => screen.getByRole("button", { name: /^Take 5 touches/ }) as HTMLButtonElement;
    await waitFor(() => expect(take().disabled).toBe(true));
    cleanup();
    atMachine({ touches, lies: "frame corner" });
    render(<ResultView />);
    await waitFor(() => expect(take().disabled).toBe(false));
    fireEvent.click(take());
    await screen.findByText("G10 L2 P1 X381.2 Y240.5");
    expect(calls.find((call) => call.path === "/api/routines/result")?.body).toMatchObject({
      routine: "frame corner",
      places: touches,
      stood: false,
    });
  });

  it("is made in the air first: the part is taken away, and each touch is made by hand", async () => {
    routes();
    const sent = atMachine({});
    render(<InTheAir />);
    fireEvent.click(screen.getByRole("button", { name: /First in the air/ }));
    await waitFor(() => expect(sent.map((command) => command.do)).toEqual(["put down", "speed", "tool", "run"]));
    expect(sent[0]?.routine).toBeNull();
    const reported = {
      ...(useLive.getState().reported as object),
      execution: "ACTIVE",
      block: "G91 G38.3 X12 F500 (search)",
    };
    act(() => useLive.setState({ reported: reported as never }));
    expect(screen.getByText("G91 G38.3 X12 F500 (search)")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Touch the tip" }));
    await screen.findByText(/1 of about 10 touches made/);
    expect(sent.at(-1)).toEqual({ do: "tap", input: curlew.probes[0]?.input });
    const message = "frame corner is found; state the feed again";
    act(() => useLive.setState({ reported: { ...reported, execution: "READY", message } as never }));
    expect(screen.getByRole("status").textContent).toBe(message);
  });

  it("has fixed lines for a program of one's own, each taken alone", async () => {
    const change = { line: 2, goes: 1, lines: ["G1 X5 F60"] };
    const fix = {
      check: "value-differs",
      message: "Measuring feed: it is not the Setup's.",
      before: "G1 X5 F90",
      change,
    };
    const taken: string[] = [];
    render(
      <TextFixes
        fixes={[fix, { ...fix, message: "one more", before: "" }]}
        text={"G21\nG1 X5 F90\nM30"}
        onTake={(text) => taken.push(text)}
      />,
    );
    const [first] = await screen.findAllByRole("button", { name: "Apply the fix to line 2" });
    expect(screen.getByText("G1 X5 F90").tagName).toBe("DEL");
    fireEvent.click(first as HTMLElement);
    expect(taken).toEqual(["G21\nG1 X5 F60\nM30"]);
    expect(withFix("a\nb", { ...fix, change: { ...change, goes: 0 } })).toBe("a\nG1 X5 F60\nb");
  });

  it("is kept once, and compared with what was found the last time, not with itself", async () => {
    const quantities = [{ name: "x", unit: "mm", value: 380.9, half_width_95: 0.004, fits: true }];
    const shared = {
      routine: "frame corner",
      revision: 1,
      says: "",
      author: "supervisor",
      taken: "2026-11-20T08:00:00Z",
    };
    const touches = probing.aims.map((aim) => xyz(aim.stands));
    const others = touches.map(([x, y, z]): (typeof touches)[number] => [x + 0.1, y, z]);
    const list = [{ id: 3, quantities, places: others, stood: true, ...shared }];
    const calls = routes({
      "POST /api/routines/result": (body: Call["body"]) => {
        const last = body.last as Record<string, number> | undefined;
        const moved = (name: string, value: number) => (last?.[name] === undefined ? null : value - last[name]);
        return [
          200,
          { ...summed, quantities: summed.quantities.map((q) => ({ ...q, moved: moved(q.name, q.value) })) },
        ];
      },
      "GET /api/machines/heron/routines/results": () => [200, [...list]],
      "POST /api/machines/heron/routines/results": () => {
        list.unshift({
          id: 4,
          quantities: [{ ...(quantities[0] as (typeof quantities)[0]), value: 381.2 }],
          places: touches,
          stood: false,
          ...shared,
        });
        return [200, list[0]];
      },
    });
    useTouches.getState().set("heron frame corner", touches);
    const { container } = render(<ResultView />);
    const moved = () => container.querySelector<HTMLElement>("[data-found=x] [data-moved]")?.textContent;
    await waitFor(() => expect(moved()).toBe("+0.300"));
    expect(container.querySelectorAll("[data-kept]")).toHaveLength(1);
    fireEvent.click(screen.getByRole("button", { name: "Keep this result" }));
    await screen.findByText("This result is kept.");
    await waitFor(() => expect(container.querySelectorAll("[data-kept]")).toHaveLength(2));
    expect(moved()).toBe("+0.300");
    expect((screen.getByRole("button", { name: "Keep this result" }) as HTMLButtonElement).disabled).toBe(true);
    expect(calls.find((call) => call.method === "POST" && call.path.endsWith("/results"))?.body).toEqual({
      routine: "frame corner",
      places: touches,
      stood: false,
    });
    expect(window.location.search).toBe("?result=4");
    fireEvent.click(screen.getAllByRole("button", { name: "open" })[1] as Element);
    await waitFor(() => expect(window.location.search).toBe("?result=3"));
    expect(useTouches.getState().places["heron frame corner"]).toEqual(others);
    expect((screen.getByRole("checkbox", { name: /read off after/ }) as HTMLInputElement).checked).toBe(true);
  });

  it("is worked out once every touch is entered, and sets the work offset as readings", async () => {
    learn(["readings", "heron"], []);
    const calls = routes({
      "POST /api/routines/result": () => [200, summed],
      "POST /api/machines/heron/readings": (body: Call["body"]) => [
        200,
        { reading: reading({ pointer: String(body.quantity), value: Number(body.value) }), edit_at: null },
      ],
    });
    render(<ResultView />);
    for (const [index, aim] of probing.aims.entries()) {
      expect(calls.some((call) => call.path === "/api/routines/result")).toBe(false);
      const axis = axesOf(aim.way)[0] as 0 | 1 | 2;
      const field = screen.getByLabelText(`Touch ${index + 1}, ${"XYZ"[axis]}`);
      fireEvent.focus(field);
      fireEvent.change(field, { target: { value: String(xyz(aim.stands)[axis] + 0.5) } });
      fireEvent.keyDown(field, { key: "Enter" });
      await waitFor(() => expect(useTouches.getState().places["heron frame corner"]?.[index]).toBeTruthy());
    }
    await screen.findByText("G10 L2 P1 X381.2 Y240.5");
    const places = calls.find((call) => call.path === "/api/routines/result")?.body.places as Place[];
    expect(
      places.map(
        (place, at) => place.filter((part, axis) => part !== xyz(probing.aims[at]?.stands as never)[axis]).length,
      ),
    ).toEqual([1, 1, 1, 1, 1]);
    fireEvent.click(screen.getByRole("button", { name: "set it in the Setup" }));
    await screen.findByText(/is set, and kept as readings/);
    const kept = calls.filter((call) => call.path.endsWith("/readings")).map((call) => call.body);
    expect(kept).toMatchObject([
      { quantity: "/work_offsets/0/x", value: 381.2, how: "routine frame corner" },
      { quantity: "/work_offsets/0/y", value: 240.5 },
    ]);
    expect((useDocument.getState().document as Setup).work_offsets[0]).toMatchObject({ x: 381.2, y: 240.5 });
  });

  it("takes the mean of the touches of one place", () => {
    const touches: Place[] = [
      [1, 2, 3],
      [3, 2, 3],
      [5, 6, 7],
      [5, 8, 7],
    ];
    expect(means(touches, 2)).toEqual([
      [2, 2, 3],
      [5, 7, 7],
    ]);
    expect(means(touches, 3)).toHaveLength(1);
  });
});

describe("a probe", () => {
  it("is drawn with its tip, and its length is the tool's", () => {
    routes();
    const { container } = render(<ProbesStage />);
    expect(screen.getByRole("button", { name: /^length, 152.840, edit/ })).toBeTruthy();
    expect(container.querySelector("[data-effective]")?.textContent).toContain("5.968 ± 0.003");
  });

  it("tells what another feed than the one it was qualified at does, with the way out", async () => {
    routes();
    useDocument.setState({
      answer: {
        ...ofProbing,
        probing: { ...probing, probes: probing.probes.map((entry) => ({ ...entry, feed_error: 0.002 })) },
      },
    });
    render(<Feeds />);
    expect(screen.getByRole("alert").textContent).toContain("every surface is off by 0.002 mm");
    expect(screen.getAllByRole("row").length).toBe((probing.probes[0]?.feeds.length ?? 0) + 1);
  });

  it("is qualified: length, form round the clock and half a turn, each set as it was found", async () => {
    learn(["readings", "heron"], []);
    const ring: Place[] = Array.from({ length: 12 }, (_, n) => [n, n, -257]);
    atMachine({ touches: ring, lies: "diameter of touch probe" });
    const lobes = ring.map((_, n) => [n * 30, n % 2 ? 0.001 : -0.001]);
    const calls = routes({
      "POST /api/probes/diameter": () => [
        200,
        { effective_diameter: 5.941, half_width_95: 0.002, shares: [], form_error: 0.002, lobes, x: 620, y: 180 },
      ],
      "POST /api/probes/off-centre": () => [200, { x: 0.02, y: -0.01, runout: 0.022, half_width_95: 0.001 }],
      "POST /api/machines/heron/readings": (body: Call["body"]) => [
        200,
        { reading: reading({ pointer: String(body.quantity), value: Number(body.value) }), edit_at: null },
      ],
    });
    const { container } = render(<QualifyView />);
    const take = await screen.findByRole("button", { name: "Take 12 touches from the machine" });
    await waitFor(() => expect((take as HTMLButtonElement).disabled).toBe(false));
    fireEvent.click(take);
    await waitFor(() => expect(container.querySelector("[data-lobes='12'] polygon")).toBeTruthy());
    const region = within(screen.getByRole("region", { name: "Diameter" }));
    fireEvent.click(region.getByRole("button", { name: "set it" }));
    await screen.findByText(/It is set, and kept/);
    expect(useDocument.getState().document?.probes[0]).toMatchObject({
      effective_diameter: 5.941,
      effective_uncertainty: 0.002,
      lobing: 0.002,
      qualified_feed: 60,
    });
    fireEvent.click(screen.getByRole("button", { name: "Take the touches of the half turn" }));
    await waitFor(() => expect(container.querySelector("[data-runout]")).toBeTruthy());
    expect(calls.find((call) => call.path === "/api/probes/off-centre")?.body).toMatchObject({ turned: ring });
  });

  it("offers no touches of the program before, and none until the one under way has ended", async () => {
    routes();
    const ring: Place[] = Array.from({ length: 12 }, (_, n) => [n, n, -257]);
    const pages: { busy: boolean; touches: unknown[]; lies: string } = {
      busy: false,
      touches: ring,
      lies: "diameter of touch probe",
    };
    const sent = atMachine(pages);
    render(<QualifyView />);
    const take = (await screen.findByRole("button", { name: "Take 12 touches from the machine" })) as HTMLButtonElement;
    await waitFor(() => expect(take.disabled).toBe(false));
    pages.busy = true;
    act(() => useLive.setState({ runs: useLive.getState().runs + 1 }));
    expect(take.disabled).toBe(true);
    await waitFor(() => expect(sent.filter((command) => command.do === "pages").length).toBeGreaterThan(5));
    expect(take.disabled).toBe(true);
    pages.busy = false;
    await waitFor(() => expect(take.disabled).toBe(false));
  });
});
