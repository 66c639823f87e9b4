import { act, cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { BrowserRouter, MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { useShell } from "../common/shell-state";
import { History } from "../history/history";
import { Looking } from "../history/looking";
import { may, useSession } from "../session/session";
import { Palette, useDeeds, useShortcuts } from "../shell/commands";
import { Troubles } from "../shell/conflict";
import { SignIn } from "../shell/sign-in";
import { TopBar } from "../shell/top-bar";
import Shop from "../shop/shop";
import { useDocument } from "../work/document";
import { edit } from "../work/editing";
import { place, said } from "../work/naming";
import { lookBack } from "../work/opening";
import { usePlayback } from "../work/playback";
import { flush, refresh } from "../work/saving";
import { useVocabulary } from "../work/vocabulary";
import { clean, contact, heron, machine, opened, play, sized } from "./heron";

beforeEach(() => {
  localStorage.clear();
  sized();
  opened();
  useShell.setState({ open: null });
  Element.prototype.scrollIntoView = () => {};
});
afterEach(cleanup);

function Keys() {
  const deeds = useDeeds();
  useShortcuts(deeds);
  return (
    <>
      <TopBar deeds={deeds} />
      <Palette deeds={deeds} />
      <input aria-label="some field" />
    </>
  );
}

describe("signing in", () => {
  it("offers a demo's accounts, one click each", async () => {
    const calls = play({
      "POST /api/session/demo": () => [200, { user: "supervisor", role: "supervisor", demo_accounts: [] }],
    });
    useSession.setState({ session: { user: null, role: null, demo_accounts: ["viewer", "technician", "supervisor"] } });
    render(<SignIn />);
    fireEvent.click(screen.getByRole("button", { name: /^supervisor/ }));
    await waitFor(() => expect(useSession.getState().session?.role).toBe("supervisor"));
    expect(calls[0]?.body).toEqual({ role: "supervisor" });
    expect(may("supervisor")).toBe(true);
  });

  it("offers none elsewhere, and says when name and password do not fit", async () => {
    play({
      "POST /api/session": () => [401, { message: "This name and password do not belong together.", faults: [] }],
    });
    useSession.setState({ session: { user: null, role: null, demo_accounts: [] } });
    render(<SignIn />);
    expect(screen.queryByText(/This is a demo/)).toBeNull();
    fireEvent.change(screen.getByLabelText("Name"), { target: { value: "ada" } });
    fireEvent.click(screen.getByRole("button", { name: "Sign in" }));
    expect((await screen.findByRole("alert")).textContent).toContain("do not belong together");
    expect(may("technician")).toBe(false);
  });
});

describe("the shop", () => {
  const travel = [
    [0, 820],
    [0, 1240],
    [-180, 0],
  ];
  const entry = {
    slug: "heron",
    put_away: null,
    revision: 1,
    author: "supervisor",
    changed: "2026-11-25T08:00:00Z",
    name: "Heron",
    description: "gantry router",
    travel,
    unit: "mm",
    stages: { Changer: "filled", Proof: "open" },
    missing: "Signals: No input is tested yet.",
    pending: false,
    unreadable: [],
  };
  const show = (routes: Parameters<typeof play>[0]) => {
    const calls = play({ "GET /api/machines": () => [200, [entry]], ...routes });
    render(
      <MemoryRouter>
        <Shop />
      </MemoryRouter>,
    );
    return calls;
  };

  it("has a row for each machine with what is missing, and asks again for what is being worked out", async () => {
    const answers = [[{ ...entry, pending: true, stages: {}, missing: "" }], [entry]];
    show({ "GET /api/machines": () => [200, answers.length > 1 ? answers.shift() : answers[0]] });
    expect(await screen.findByText(/is being worked out/)).toBeTruthy();
    expect(await screen.findByText("Signals: No input is tested yet.", {}, { timeout: 4000 })).toBeTruthy();
    expect(screen.getByText(/gantry router/).textContent).toMatch(/travel 820 × 1.240 × 180 mm/);
    expect(screen.getByTitle("Changer: filled")).toBeTruthy();
  });

  it("tells every fault of a file that is refused", async () => {
    const faults = [{ where: "/tools/0/length", what: "`length` is missing; give it a value." }];
    show({ "POST /api/machines/import": () => [422, { message: "The input has faults.", faults }] });
    fireEvent.change(await screen.findByLabelText("Setup file"), { target: { files: [new File(["{}"], "odd.json")] } });
    const alert = await screen.findByRole("alert");
    for (const part of ["odd.json was not imported", "/tools/0/length", "is missing"])
      expect(alert.textContent).toContain(part);
  });

  it("refuses a file that is too large before sending it", async () => {
    const calls = show({});
    const large = new File(["x"], "film.json");
    Object.defineProperty(large, "size", { value: 20_000_000 });
    fireEvent.change(await screen.findByLabelText("Setup file"), { target: { files: [large] } });
    expect((await screen.findByRole("alert")).textContent).toContain("at most 4 MB");
    expect(calls.some((call) => call.path.endsWith("/import"))).toBe(false);
  });

  it("makes a new machine of a kind, with its travel and a changer, and says why it can't", async () => {
    const calls = show({
      "POST /api/machines/new": () => [422, { message: "", faults: [{ where: "/name", what: "Give it a name." }] }],
    });
    fireEvent.click(await screen.findByRole("button", { name: "New machine" }));
    fireEvent.change(await screen.findByLabelText("Name of the machine"), { target: { value: "Tern" } });
    fireEvent.click(screen.getByRole("button", { name: "machining centre" }));
    fireEvent.click(screen.getByRole("button", { name: /^moving disc/ }));
    fireEvent.click(screen.getByRole("button", { name: "Create the machine" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Give it a name");
    const travel = useVocabulary.getState().machine_kinds["machining centre"];
    const body = { name: "Tern", kind: "machining centre", unit: "mm", travel, style: "moving disc" };
    expect(calls.at(-1)?.body).toEqual(body);
  });

  it("is without ways to change it for a viewer, and says what to do where it is empty", async () => {
    opened(clean, "viewer");
    show({ "GET /api/machines": () => [200, []] });
    expect(await screen.findByText(/No machines yet/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: "New machine" })).toBeNull();
  });
});

describe("keys and commands", () => {
  const press = (key: string, more: object = {}) => fireEvent.keyDown(document.body, { key, ...more });
  const show = () =>
    render(
      <BrowserRouter>
        <Keys />
      </BrowserRouter>,
    );

  it("step, seek and go to the next finding", () => {
    opened(contact);
    show();
    press("End");
    expect(usePlayback.getState().time).toBe(contact.exchange?.trace?.seconds);
    press("ArrowLeft");
    press("Home");
    expect(usePlayback.getState().block).toBe(0);
    press("ArrowRight");
    expect(usePlayback.getState().block).toBe(1);
    press("f");
    expect(usePlayback.getState().chosen).toEqual(contact.exchange?.findings[0]);
    press("f");
    expect(usePlayback.getState().chosen).toEqual(contact.exchange?.findings[1]);
  });

  it("do nothing while one types, except the palette's", () => {
    show();
    fireEvent.keyDown(screen.getByLabelText("some field"), { key: "ArrowRight" });
    expect(usePlayback.getState().block).toBe(0);
    fireEvent.keyDown(screen.getByLabelText("some field"), { key: "k", ctrlKey: true });
    expect(useShell.getState().open).toBe("palette");
    expect(screen.getByPlaceholderText("type a few letters")).toBeTruthy();
  });

  it("are listed on the help sheet", () => {
    show();
    press("?");
    expect(screen.getByText("Play or pause")).toBeTruthy();
    expect(screen.getAllByText("Go to Proof").length).toBeGreaterThan(0);
  });

  it("turn the ground and go to another stage", () => {
    show();
    const before = document.documentElement.dataset.ground;
    press("d");
    expect(document.documentElement.dataset.ground).not.toBe(before);
    press("6");
    expect(location.pathname).toBe("/machines/heron/proof");
    press("d");
  });

  it("show the state of saving in words", () => {
    show();
    expect(screen.getByRole("status").textContent).toBe("saved");
    useDocument.setState({ saving: "offline" });
    cleanup();
    show();
    expect(screen.getByRole("status").textContent).toBe("no connection; kept here");
  });
});

/** The scene with its pockets elsewhere, by mm in X. */
const shifted = (by: number) => {
  const { scene } = clean;
  const magazine = scene?.magazine;
  const pockets = magazine?.pockets.map((pocket) => ({ ...pocket, x: pocket.x + by }));
  return { ...scene, magazine: { ...magazine, pockets } };
};

describe("history and conflict", () => {
  const change = { where: "/changer/rack/pitch", before: 58.5, after: 58.9 };
  const revision = (number: number) => ({
    number,
    author: "supervisor",
    created: machine.changed,
    changed: machine.changed,
    note: "",
    changes: number > 1 ? [change] : [],
  });

  it("lists revisions, looks at one and restores it", async () => {
    const calls = play({
      "GET /api/machines/heron/revisions": () => [200, [revision(2), revision(1)]],
      "GET /api/machines/heron/revisions/1": () => [
        200,
        {
          number: 1,
          author: "technician",
          changed: "2026-11-25T10:00:00Z",
          against: 2,
          document: heron,
          changes: [change],
          scene: shifted(0.02),
          against_scene: clean.scene,
        },
      ],
      "POST /api/machines/heron/revisions/1/restore": () => [200, { ...machine, revision: 3 }],
      "POST /api/preview": () => [200, clean],
    });
    render(<History onClose={() => {}} />);
    expect(await screen.findByText("revision 2")).toBeTruthy();
    expect(screen.getAllByText(/Pitch/)).toHaveLength(1);
    fireEvent.click(screen.getAllByRole("button", { name: "compare" })[1] as Element);
    const beside = within(await screen.findByRole("region", { name: "Revision 1 beside 2" }));
    expect(beside.getByText("Changer")).toBeTruthy();
    const values = beside.getByText("Pitch").closest("tr")?.querySelectorAll("td");
    expect([...(values ?? [])].map((cell) => cell.textContent)).toEqual(["Pitch", "58.500", "58.900"]);
    expect(beside.getByRole("img").querySelectorAll("circle").length).toBeGreaterThan(19);
    expect(beside.getByText(/1000 times as long/)).toBeTruthy();
    expect(beside.getByRole("img").querySelectorAll("[data-moved]")).toHaveLength(10);
    expect(screen.getAllByRole("button", { name: "restore" })).toHaveLength(1);
    fireEvent.click(screen.getByRole("button", { name: "restore" }));
    await waitFor(() => expect(useDocument.getState().machine?.revision).toBe(3));
    expect(calls.some((call) => call.path.endsWith("/restore"))).toBe(true);
  });

  it("looks at an earlier revision on every stage, changes nothing of it, and goes back", async () => {
    const earlier = { ...heron, machine: { ...heron.machine, name: "Heron as it was" } };
    const calls = play({
      "GET /api/machines/heron/revisions/1": () => [
        200,
        { number: 1, author: "supervisor", changed: "2026-11-25T10:00:00Z", document: earlier },
      ],
      "GET /api/machines/heron": () => [200, { ...machine, revision: 7 }],
      "POST /api/machines/heron/revisions/1/restore": () => [403, { message: "Only a technician may." }],
      "POST /api/preview": () => [200, clean],
    });
    useDocument.setState({ machine: { ...machine, revision: 7 } });
    const { container } = render(
      <MemoryRouter>
        <Looking />
      </MemoryRouter>,
    );
    const asked = lookBack(1);
    useDocument.setState({ entering: 1 }); // what is entered meanwhile is not left behind
    await asked;
    expect(useDocument.getState().looking).toBeNull();
    useDocument.setState({ entering: 0 });
    await act(async () => void (await lookBack(1)));
    expect(screen.getByRole("status").textContent).toContain("Revision 1 as supervisor left it");
    expect(window.location.search).toBe("?revision=1");
    expect(useDocument.getState().document?.machine.name).toBe("Heron as it was");
    expect(may("technician")).toBe(false);
    expect((await edit("/changer/rack/pitch", 60))[0]?.what).toContain("This is revision 1");
    await act(() => refresh());
    await act(() => flush());
    expect(useDocument.getState().document?.machine.name).toBe("Heron as it was");
    expect(calls.some((call) => call.method === "PUT")).toBe(false);
    fireEvent.click(screen.getByRole("button", { name: "Restore it" }));
    await screen.findByText("Only a technician may.");
    fireEvent.click(screen.getByRole("button", { name: "Back to the newest" }));
    await waitFor(() => expect(container.textContent).toBe(""));
    expect(useDocument.getState().document).toBe(useDocument.getState().machine?.document);
    expect(may("technician")).toBe(true);
    expect(window.location.search).toBe("");
  });

  it("shows both values of a conflict", () => {
    useDocument.setState({
      saving: "conflict",
      conflict: {
        message: "supervisor has changed the same value meanwhile.",
        conflicts: [{ where: "/tools/2/length", base: 69.15, mine: 70, theirs: 71, unit: "mm" }],
        revision: 4,
        author: "supervisor",
        document: heron,
      },
    });
    render(<Troubles />);
    for (const text of ["T2 length", "69.150 mm", "70.000 mm", "71.000 mm", "Keep mine", "Take supervisor's"])
      expect(screen.getByText(text)).toBeTruthy();
  });

  it("asks to sign in again where the session has ended", () => {
    play({});
    useDocument.setState({ saving: "signed-out" });
    render(<Troubles />);
    expect(screen.getByRole("alert").textContent).toContain("What you entered is kept here");
  });

  it("says values in words", () => {
    expect([
      said(null),
      said(58.5),
      said(12),
      said(""),
      said({ number: 3, name: "drill" }),
      said({ style: "thread-on" }),
    ]).toEqual(["nothing", "58.500", "12", "empty", "T3 drill", "thread-on"]);
    expect(place("/tools/5/stick_out")).toBe("T5 stick-out");
    expect(place("/changer/heights/touch_z")).toBe("Nose on spacer");
  });
});
