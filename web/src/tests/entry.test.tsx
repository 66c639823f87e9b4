/** What is entered is never stored against one's will, never lost, and taken back where it was put. */

import { act, cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Setup, Tool } from "../api/client";
import { Dialog } from "../common/dialog";
import { QuantityRow, TextRow } from "../fields/rows";
import { useLive } from "../live/live";
import { asciiDigits } from "../quantity/format";
import { useDeeds, useShortcuts } from "../shell/commands";
import { Troubles } from "../shell/conflict";
import { TopBar } from "../shell/top-bar";
import { leftAlone } from "../shell/unsent";
import { chooseExchange } from "../work/choosing";
import { type Left, useDocument } from "../work/document";
import { addToSetup, edit, undo } from "../work/editing";
import { said } from "../work/naming";
import { usePlayback } from "../work/playback";
import { keyed, located, write } from "../work/pointer";
import { restored } from "../work/saving";
import { useSelection } from "../work/selection";
import { useVocabulary } from "../work/vocabulary";

import { type Call, clean, contact, heron, machine, ofUnder, opened, play, rackNow } from "./heron";

const PITCH = "/changer/rack/pitch";
const work = () => ({ ...useDocument.getState(), ...useSelection.getState(), ...usePlayback.getState() });
const offline = () => new TypeError("Failed to fetch");

/** A server that is there or not, and takes what is saved. */
function server(there: { now: boolean; signedIn?: boolean }, more: Parameters<typeof play>[0] = {}) {
  const only =
    (answer: (body: Call["body"]) => [number, unknown]) =>
    (body: Call["body"]): [number, unknown] | Error =>
      there.now ? (there.signedIn === false ? [401, { message: "Sign in first." }] : answer(body)) : offline();
  return play({
    "POST /api/quantity": only((body) => [200, { value: Number(body.text), unit: "mm", what: "", column: 0 }]),
    "POST /api/preview": only(() => [200, clean]),
    "PUT /api/machines/heron": only((body) => [200, { ...machine, revision: 2, document: body.document }]),
    ...more,
  });
}

function typed(label: string, text: string): HTMLInputElement {
  const field = screen.getByLabelText<HTMLInputElement>(label);
  act(() => field.focus());
  fireEvent.change(field, { target: { value: text } });
  return field;
}

beforeEach(() => {
  localStorage.clear();
  opened();
});
afterEach(cleanup);

describe("Escape", () => {
  it("leaves a number and a name as they were, and sends nothing to be stored", async () => {
    const calls = server({ now: true });
    render(
      <>
        <QuantityRow label="Pitch" pointer={PITCH} kind="length" />
        <TextRow label="Name" pointer="/machine/name" />
      </>,
    );
    for (const [label, text, was] of [
      ["Pitch", "70", "58.500"],
      ["Name", "Kite", "Heron"],
    ] as const) {
      const field = typed(label, text);
      fireEvent.keyDown(field, { key: "Escape" });
      expect(document.activeElement).not.toBe(field);
      expect(field.value).toBe(was);
    }
    await new Promise((done) => setTimeout(done, 50));
    expect(work().document).toBe(heron);
    expect(calls.filter((call) => call.method === "PUT" || call.path === "/api/preview")).toHaveLength(0);
  });
});

describe("a number that can't be sent", () => {
  it("is named in the header, survives going elsewhere and a reload, and is sent when there is a connection", async () => {
    const there = { now: false };
    server(there);
    const header = () =>
      render(
        <MemoryRouter>
          <TopBar deeds={[]} />
        </MemoryRouter>,
      );
    const shown = render(<QuantityRow label="Pitch" pointer={PITCH} kind="length" />);
    fireEvent.keyDown(typed("Pitch", "59.5"), { key: "Enter" });
    expect((await screen.findByRole("alert")).textContent).toContain("kept here");
    shown.unmount(); // to another stage
    const bar = header();
    expect(screen.getByRole("status").textContent).toBe("not saved yet: Pitch");
    bar.unmount();
    expect(localStorage.getItem("orthotrope:drafts:technician:heron")).toContain("59.5");
    render(<QuantityRow label="Pitch" pointer={PITCH} kind="length" />);
    expect(screen.getByLabelText<HTMLInputElement>("Pitch").value).toBe("59.5");
    there.now = true;
    await waitFor(() => expect(rackNow()?.pitch).toBe(59.5));
    await waitFor(() => expect([work().saving, Object.keys(work().drafts)]).toEqual(["saved", []]));
    expect(localStorage.getItem("orthotrope:drafts:technician:heron")).toBeNull();
    expect(localStorage.getItem("orthotrope:unsaved:technician:heron")).toBeNull();
    expect(screen.getByLabelText<HTMLInputElement>("Pitch").value).toBe("59.500");
  });

  it.each(["technician", "somebody else"])(
    "for want of a session waits for it, and is sent by %s only if it is theirs",
    async (signs) => {
      const there = { now: true, signedIn: false };
      server(there, { "POST /api/session": () => [200, { user: signs, role: "technician", demo_accounts: [] }] });
      const reload = vi.fn();
      vi.stubGlobal("location", { ...window.location, pathname: window.location.pathname, reload });
      render(
        <>
          <QuantityRow label="Pitch" pointer={PITCH} kind="length" />
          <Troubles />
        </>,
      );
      fireEvent.keyDown(typed("Pitch", "60"), { key: "Enter" });
      const dialog = await screen.findByRole("dialog");
      expect(dialog.textContent).toContain("Your session has ended");
      await waitFor(() => expect(dialog.contains(document.activeElement)).toBe(true));
      there.signedIn = true;
      fireEvent.click(screen.getByRole("button", { name: "Sign in" }));
      if (signs === "technician") {
        await waitFor(() => expect(rackNow()?.pitch).toBe(60));
        await waitFor(() => expect(work().drafts).toEqual({}));
      } else {
        await waitFor(() => expect(reload).toHaveBeenCalled());
        expect(rackNow()?.pitch).toBe(58.5);
        expect(localStorage.getItem("orthotrope:drafts:technician:heron")).toContain("60");
      }
      vi.unstubAllGlobals();
    },
  );

  it("adds to a list when there is a connection again, beside what others added meanwhile", async () => {
    const there = { now: false };
    const tool = (number: number) => ({ ...heron.tools[0], number, pocket: null }) as Tool;
    const numbers = (document: unknown) => (document as Setup).tools.map((each) => each.number);
    server(there, {
      "POST /api/merge": ({ base, mine, theirs }) => {
        const more = (mine as Setup).tools.filter((each) => !numbers(base).includes(each.number));
        return [200, { document: { ...(theirs as Setup), tools: [...(theirs as Setup).tools, ...more] }, left: [] }];
      },
      "POST /api/adding/tool": (body) => {
        if (!there.now) return new Error("no connection");
        const document = body.document as Setup;
        return [200, { document: { ...document, tools: [...document.tools, tool(99)] }, name: "T99", says: [] }];
      },
    });
    const faults = await edit("/tools", (now: Tool[]) => [...now, tool(21)]);
    expect(faults[0]?.what).toContain("kept here");
    await edit("/tools", (now: Tool[]) => [...now, tool(22)]);
    expect((await addToSetup({ what: "tool" })).faults[0]?.what).toContain("kept here");
    expect(localStorage.getItem("orthotrope:drafts:technician:heron")).toContain('"adding":{"what":"tool"}');
    const theirs = { ...heron, tools: [...heron.tools, tool(50)] };
    useDocument.setState({ document: theirs, base: theirs });
    there.now = true;
    await waitFor(() =>
      expect(
        work()
          .document?.tools.slice(-4)
          .map((each) => each.number),
      ).toEqual([50, 21, 22, 99]),
    );
    await waitFor(() => expect([work().saving, Object.keys(work().drafts)]).toEqual(["saved", []]));
  });

  it("stays with its tool when the list changes meanwhile, and says so where it has gone", async () => {
    const { keys } = useVocabulary.getState();
    expect(keyed(heron, "/tools/2/length", keys)).toBe("/tools/3/length");
    const without = { ...heron, tools: heron.tools.filter((tool) => tool.number !== 1) };
    expect(located(without, "/tools/3/length", keys)).toBe("/tools/1/length");
    expect(located(without, "/tools/1/length", keys)).toBeNull();
    const there = { now: false };
    server(there);
    await edit("/tools/0/length", 61);
    expect(Object.keys(work().drafts)).toEqual(["/tools/1/length"]);
    useDocument.setState({ document: without, base: without });
    there.now = true;
    await waitFor(() => expect(work().drafts["/tools/1/length"]?.refused).toContain("not in the Setup any more"));
    expect(work().document?.tools[0]?.length).toBe(heron.tools[1]?.length);
  });
});

describe("a number that nobody has entered yet", () => {
  const LENGTH = "/tools/0/length";
  const where = [{ where: PITCH }, { where: "/tools/1/length" }, { where: "/tools/99/length" }];
  const planned = { ...heron, planned: where };
  const marked = () => work().document?.planned?.map((entry) => entry.where) ?? [];

  it("is marked until it is entered or confirmed; undo brings the mark back", async () => {
    server({ now: true });
    useDocument.setState({ document: planned, base: planned });
    render(<QuantityRow label="Pitch" pointer={PITCH} kind="length" />);
    const field = screen.getByLabelText("Pitch") as HTMLInputElement;
    expect(field.className).toContain("planned");
    act(() => field.focus());
    expect(screen.getByText(/Nobody has entered this number yet/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "It is right" }));
    await waitFor(() => expect(marked()).toEqual(["/tools/1/length"])); // what leads nowhere is gone with it
    await waitFor(() => expect(field.className).not.toContain("planned"));
    expect(rackNow()?.pitch).toBe(58.5);
    await edit(LENGTH, 61.25);
    expect(marked()).toEqual([]);
    await undo();
    expect(work().document?.tools[0]?.length).toBe(heron.tools[0]?.length);
    expect(marked()).toEqual(["/tools/1/length"]);
  });

  it("is entered too where a whole list is replaced", async () => {
    server({ now: true });
    useDocument.setState({ document: planned, base: planned });
    await edit("/tools", (before: unknown) => (before as Tool[]).map((tool) => ({ ...tool, length: 70 })));
    expect(marked()).toEqual([PITCH]);
  });
});

describe("undo", () => {
  it("asks the core to take back what one changed, and leaves and tells what others changed since", async () => {
    const others = write(write(heron, PITCH, 58.6), "/changer/heights/margin", 12);
    const left = [{ where: PITCH, base: 58.6, mine: 58.5, theirs: 59, unit: "mm" }];
    const calls = server({ now: true }, { "POST /api/merge": () => [200, { document: others, left }] });
    await edit(PITCH, 58.6);
    useDocument.setState({ document: others });
    await undo();
    const asked = calls.find((call) => call.path === "/api/merge")?.body;
    expect(asked).toMatchObject({ base: write(others, PITCH, 58.6), mine: write(others, PITCH, 58.5), theirs: others });
    expect(leftAlone(work().left as Left)).toContain("Pitch was changed by someone else since");
    expect(work().document).toBe(others);
  });

  it("takes a restore back as one step, and what was before it after that", async () => {
    server({ now: true });
    await edit(PITCH, 58.6);
    const edited = work().document;
    await restored({ ...machine, revision: 3, document: heron });
    expect(rackNow()?.pitch).toBe(58.5);
    await undo();
    expect(work().document).toEqual(edited);
    await undo();
    expect(rackNow()?.pitch).toBe(58.5);
    expect(work().done).toHaveLength(0);
  });

  it("works right after Enter in a field", async () => {
    server({ now: true });
    render(<QuantityRow label="Pitch" pointer={PITCH} kind="length" />);
    const field = typed("Pitch", "58.6");
    fireEvent.keyDown(field, { key: "Enter" });
    await waitFor(() => expect(field.value).toBe("58.600"));
    fireEvent.keyDown(field, { key: "z", ctrlKey: true });
    await waitFor(() => expect(field.value).toBe("58.500"));
  });
});

describe("previews", () => {
  it("that come late don't cover a newer document", async () => {
    const held: ((answer: Response) => void)[] = [];
    const answered = (body: unknown) =>
      new Response(JSON.stringify(body), { headers: { "Content-Type": "application/json" } });
    vi.stubGlobal("fetch", async (request: Request) => {
      if (request.method === "PUT") return answered({ ...machine, document: (await request.json()).document });
      return new Promise<Response>((done) => held.push(done));
    });
    const looking = chooseExchange({ from: 4, to: 9 });
    await vi.waitFor(() => expect(held).toHaveLength(1));
    const editing = edit(PITCH, 58.6);
    await vi.waitFor(() => expect(held).toHaveLength(2));
    held[1]?.(answered(clean));
    await editing;
    held[0]?.(answered(contact)); // of the document before the edit
    await looking;
    expect(rackNow()?.pitch).toBe(58.6);
    expect(work().answer).toEqual(clean);
  });

  it("that fail for want of a connection are asked again by one timer, however many failed", async () => {
    const calls = server({ now: false });
    for (let k = 0; k < 6; k++) await chooseExchange({ from: 4, to: 9 });
    const failed = calls.length;
    await new Promise((done) => setTimeout(done, 3600));
    expect(calls.length - failed).toBeLessThanOrEqual(3);
  });

  it("play an exchange under a fault, at what it rests on, until it is played undisturbed", async () => {
    const calls = play({ "POST /api/preview": (body) => [200, body.fault ? ofUnder : clean] });
    await chooseExchange({ from: 2, to: 9 }, undefined, "pocket-full");
    expect(calls[0]?.body.fault).toBe("pocket-full");
    expect(work().answer?.exchange?.under?.verdict).toBe("undetectable");
    expect(work().chosen?.check).toBe(work().answer?.exchange?.under?.finding?.check);
    expect(work().time).toBeGreaterThan(0);
    await chooseExchange({ from: 2, to: 9 });
    expect([calls.at(-1)?.body.fault, work().answer?.exchange?.under]).toEqual([null, null]);
  });
});

const went = vi.fn();
const stopped = vi.fn(async () => ({}));

function Page() {
  const deeds = useDeeds().map((deed) => ({ ...deed, run: deed.keys === "S" ? deed.run : () => went(deed.keys) }));
  useShortcuts(deeds);
  return (
    <g role="button" tabIndex={0} data-pointer={PITCH}>
      pitch
    </g>
  );
}

describe("keys", () => {
  const page = (inside?: React.ReactNode) =>
    render(
      <MemoryRouter>
        <Page />
        {inside}
      </MemoryRouter>,
    );

  beforeEach(() => {
    went.mockClear();
    stopped.mockClear();
    useLive.setState({ send: stopped });
  });

  it("digits on a dimension are its number's, not a stage's", () => {
    page();
    fireEvent.keyDown(screen.getByText("pitch"), { key: "2" });
    expect(went).not.toHaveBeenCalled();
    fireEvent.keyDown(document.body, { key: "2" });
    expect(went).toHaveBeenCalledWith("2");
  });

  it("do nothing beneath a dialog but stop the machine, and the focus comes back from it", async () => {
    page();
    act(() => screen.getByText("pitch").focus());
    const dialog = render(
      <Dialog open title="A question">
        <input aria-label="answer" />
      </Dialog>,
    );
    for (const key of ["2", "ArrowRight", " ", "h"]) fireEvent.keyDown(screen.getByRole("dialog"), { key });
    expect(went).not.toHaveBeenCalled();
    fireEvent.keyDown(screen.getByRole("dialog"), { key: "s" });
    fireEvent.keyDown(screen.getByLabelText("answer"), { key: ".", ctrlKey: true });
    expect(stopped).toHaveBeenCalledTimes(2);
    fireEvent.keyDown(screen.getByLabelText("answer"), { key: "s" });
    expect(stopped).toHaveBeenCalledTimes(2);
    dialog.unmount();
    await waitFor(() => expect(document.activeElement).toBe(screen.getByText("pitch")));
  });

  it("arrows step the sequence but where they move within a list of their own", () => {
    page(
      <div role="listbox" tabIndex={0}>
        names
      </div>,
    );
    fireEvent.keyDown(screen.getByText("names"), { key: "ArrowRight" });
    expect(went).not.toHaveBeenCalled();
    fireEvent.keyDown(screen.getByText("pitch"), { key: "ArrowRight" });
    expect(went).toHaveBeenCalledWith("→");
  });
});

it("numbers are said in the machine's unit and copied as plain digits", () => {
  expect(said(-50.8, "mm", "inch")).toBe("−2.0000 in");
  expect(said(1450, "mm/min", "inch")).toBe("57.1 in/min");
  expect(said(1160, "rev/min", "inch")).toBe("1\u202f160 rev/min");
  expect(asciiDigits("X −1\u202f186.500, 2\u202f000 mm")).toBe("X -1186.500, 2000 mm");
});
