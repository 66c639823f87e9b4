import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Setup } from "../api/client";
import { heightsOf, rackOf } from "../changers/of-changer";
import { isCurrentNow } from "../work/asking";
import { chooseExchange, pickTool, showProfile } from "../work/choosing";
import { useDocument } from "../work/document";
import { edit, redo, undo } from "../work/editing";
import { closeMachine, openMachine } from "../work/opening";
import { goTo, play as playSequence, seek, step, usePlayback } from "../work/playback";
import { write } from "../work/pointer";
import { refresh, settle } from "../work/saving";
import { useSelection } from "../work/selection";
import { keptSteps } from "../work/undoing";
import { clean, contact, heron, machine, opened, play } from "./heron";

const PITCH = "/changer/rack/pitch";
const work = () => ({ ...useDocument.getState(), ...useSelection.getState(), ...usePlayback.getState() });
const preview = () => [200, clean] as [number, unknown];
const settled = () => vi.waitFor(() => expect(work().saving).toBe("saved"));

function stored(body: Record<string, unknown>, revision = 2): [number, unknown] {
  return [200, { ...machine, revision, changed: `later ${revision}`, document: body.document }];
}

beforeEach(() => {
  localStorage.clear();
  opened();
});

const UNSAVED = "orthotrope:unsaved:technician:heron";

describe("an edit", () => {
  it("is previewed, becomes the document and is saved from where it began", async () => {
    const calls = play({ "POST /api/preview": preview, "PUT /api/machines/heron": (body) => stored(body) });
    expect(await edit(PITCH, 58.6)).toEqual([]);
    await settled();
    expect(rackOf(work().document?.changer)?.pitch).toBe(58.6);
    const put = calls.find((call) => call.method === "PUT");
    expect(put?.body).toMatchObject({
      base_revision: 1,
      base: heron,
      document: { changer: { rack: { pitch: 58.6 } } },
    });
    expect(work().baseRevision).toBe(2);
    expect(localStorage.getItem(UNSAVED)).toBeNull();
  });

  it("with a fault leaves the document as it was and sends nothing to be saved", async () => {
    const faults = [{ where: PITCH, what: "`pitch` must be above 0 mm; got −3." }];
    const calls = play({ "POST /api/preview": () => [200, { ...clean, faults, derived: null }] });
    expect(await edit(PITCH, -3)).toEqual(faults);
    expect(work().document).toBe(heron);
    expect(work().answer).toBe(clean);
    expect(calls.map((call) => call.method)).toEqual(["POST"]);
  });

  it("to the same value is none", async () => {
    const calls = play({});
    expect(await edit(PITCH, 58.5)).toEqual([]);
    expect(calls).toHaveLength(0);
    expect(work().done).toHaveLength(0);
  });

  it("can be undone and done again, value by value", async () => {
    play({ "POST /api/preview": preview, "PUT /api/machines/heron": (body) => stored(body) });
    await edit(PITCH, 58.6);
    await edit("/changer/heights/margin", 9);
    await undo();
    expect(heightsOf(work().document?.changer)?.margin).toBe(8);
    expect(rackOf(work().document?.changer)?.pitch).toBe(58.6);
    expect(work().focus).toBe("/changer/heights/margin");
    await undo();
    expect(work().document).toEqual(heron);
    await undo();
    await redo();
    expect(rackOf(work().document?.changer)?.pitch).toBe(58.6);
    await settled();
  });

  it("can be undone after a reload, where its tool stands elsewhere in the list meanwhile", async () => {
    play({ "POST /api/preview": preview, "PUT /api/machines/heron": (body) => stored(body) });
    const [first, second, ...rest] = heron.tools;
    if (!first || !second) throw new Error("too few tools");
    await edit("/tools/1/length", second.length + 1);
    await settled();
    const turned = { ...work().document, tools: [{ ...second, length: second.length + 1 }, first, ...rest] } as Setup;
    expect(keptSteps("heron").done).toMatchObject([{ key: `/tools/${second.number}/length`, before: second.length }]);
    useDocument.setState({ ...keptSteps("heron"), document: turned });
    await undo();
    expect(work().document?.tools[0]).toEqual(second);
    await settled();
  });

  it("of what has gone since says so, and is no longer in the way", async () => {
    play({ "POST /api/preview": preview, "PUT /api/machines/heron": (body) => stored(body) });
    await edit("/tools/1/length", 99);
    useDocument.setState({ document: { ...heron, tools: heron.tools.slice(0, 1) } as Setup });
    await undo();
    expect([work().left, work().done]).toEqual([{ keys: [expect.any(String)], gone: true }, []]);
  });

  it("keeps no more than the browser's store has room for", async () => {
    play({ "POST /api/preview": preview, "PUT /api/machines/heron": (body) => stored(body) });
    const long = "x".repeat(400_000);
    for (const name of ["a", "b", "c"]) await edit("/machine/description", name + long);
    expect(work().done).toHaveLength(3);
    expect(keptSteps("heron").done.length).toBeLessThan(3);
    await settled();
  });
});

describe("nothing is lost", () => {
  it("when the connection is: it stays in the browser and is sent again", async () => {
    let lost = true;
    play({
      "POST /api/preview": preview,
      "PUT /api/machines/heron": (body) => (lost ? new Error("no network") : stored(body)),
    });
    await edit(PITCH, 58.6);
    await vi.waitFor(() => expect(work().saving).toBe("offline"));
    const kept = JSON.parse(localStorage.getItem(UNSAVED) ?? "null");
    expect(kept.document.changer.rack.pitch).toBe(58.6);
    expect(kept.base.changer.rack.pitch).toBe(58.5);
    lost = false;
    await vi.waitFor(() => expect(work().saving).toBe("saved"), { timeout: 4000 });
    expect(localStorage.getItem(UNSAVED)).toBeNull();
  });

  it("by a reload: what was kept is opened again and saved", async () => {
    const document = write(heron, PITCH, 58.7);
    localStorage.setItem(
      "orthotrope:unsaved:technician:heron",
      JSON.stringify({ base: heron, baseRevision: 1, document }),
    );
    const calls = play({
      "GET /api/machines/heron": () => [200, machine],
      "POST /api/preview": preview,
      "PUT /api/machines/heron": (body) => stored(body),
    });
    closeMachine();
    await openMachine("heron");
    await settled();
    expect(rackOf(work().document?.changer)?.pitch).toBe(58.7);
    expect(calls.filter((call) => call.method === "PUT")).toHaveLength(1);
  });

  it("by looking for changes while a machine is still being opened", async () => {
    const calls = play({ "GET /api/machines/heron": () => [200, machine], "POST /api/preview": preview });
    closeMachine();
    const opening = openMachine("heron");
    await refresh();
    await opening;
    expect(work().answer?.derived).toBeTruthy();
    expect(calls.filter((call) => call.path === "/api/preview")).toHaveLength(1);
  });

  it("when the session ends", async () => {
    play({ "POST /api/preview": preview, "PUT /api/machines/heron": () => [401, { detail: "Unauthorized" }] });
    await edit(PITCH, 58.6);
    await vi.waitFor(() => expect(work().saving).toBe("signed-out"));
    expect(localStorage.getItem(UNSAVED)).toContain("58.6");
  });

  it("when what others stored comes back merged", async () => {
    const merged = write(write(heron, PITCH, 58.6), "/changer/heights/margin", 11);
    play({ "POST /api/preview": preview, "PUT /api/machines/heron": () => stored({ document: merged }) });
    await edit(PITCH, 58.6);
    await settled();
    expect(heightsOf(work().document?.changer)?.margin).toBe(11);
  });
});

describe("two people at one value", () => {
  const theirs = write(heron, PITCH, 58.9);
  const clash = {
    message: "supervisor has changed the same value meanwhile.",
    conflicts: [{ where: PITCH, base: 58.5, mine: 58.6, theirs: 58.9 }],
    revision: 5,
    author: "supervisor",
    document: theirs,
  };

  async function collide() {
    let refused = false;
    const calls = play({
      "POST /api/preview": preview,
      "GET /api/machines/heron": () => [200, { ...machine, revision: 5, changed: "later", document: theirs }],
      "PUT /api/machines/heron": (body) => {
        if (refused) return stored(body, 6);
        refused = true;
        return [409, clash];
      },
    });
    await edit(PITCH, 58.6);
    await vi.waitFor(() => expect(work().saving).toBe("conflict"));
    return calls;
  }

  it("mine stands where I say so, saved from theirs", async () => {
    const calls = await collide();
    await settle(true);
    await settled();
    expect(rackOf(work().document?.changer)?.pitch).toBe(58.6);
    expect(calls.at(-1)?.body).toMatchObject({ base_revision: 5, base: { changer: { rack: { pitch: 58.9 } } } });
  });

  it("theirs stands where I say so", async () => {
    await collide();
    await settle(false);
    expect(rackOf(work().document?.changer)?.pitch).toBe(58.9);
    expect(work().conflict).toBeNull();
    expect(localStorage.getItem(UNSAVED)).toBeNull();
  });
});

describe("looking again", () => {
  it("takes over what others have stored, but not over what is unsaved here", async () => {
    const other = { ...machine, revision: 3, changed: "later", document: write(heron, PITCH, 59) };
    play({ "POST /api/preview": preview, "GET /api/machines/heron": () => [200, other] });
    useDocument.setState({ saving: "offline" });
    await refresh();
    expect(work().document).toBe(heron);
    useDocument.setState({ saving: "saved" });
    await refresh();
    expect(rackOf(work().document?.changer)?.pitch).toBe(59);
    expect(work().baseRevision).toBe(3);
  });

  it("says that there is no such machine", async () => {
    play({ "GET /api/machines/nobody": () => [404, { message: "There is no such machine." }] });
    await openMachine("nobody");
    expect(work().missing).toContain("no such machine");
  });
});

describe("the line of time", () => {
  it("steps by block both ways and stops at the ends", () => {
    step(1);
    expect(work().block).toBe(1);
    step(-5);
    expect(work().block).toBe(0);
    step(1000);
    expect(work().block).toBe((clean.exchange?.trace?.blocks.length ?? 0) - 1);
    expect(work().time).toBe(clean.exchange?.trace?.seconds);
  });

  it("is where it is sought, within the trace", () => {
    seek(-4);
    expect([work().time, work().block]).toEqual([0, 0]);
    seek(1e9);
    expect(work().time).toBe(clean.exchange?.trace?.seconds);
  });

  it("begins anew when it is played at its end", () => {
    seek(1e9);
    playSequence(true);
    expect([work().time, work().playing]).toEqual([0, true]);
  });

  it("goes to a finding's moment and block", () => {
    opened(contact);
    const finding = contact.exchange?.findings.find((entry) => entry.check === "body-contact");
    if (!finding) throw new Error("no contact");
    goTo(finding);
    expect(work().time).toBe(finding.at_seconds);
    expect(contact.exchange?.trace?.blocks[work().block]?.line).toBe(finding.line);
    expect(work().focus).toBe("/changer/heights/stored_top_z");
  });
});

describe("choosing an exchange", () => {
  it("takes two clicks; the same pocket twice takes the first back", async () => {
    const calls = play({ "POST /api/preview": preview });
    pickTool(4);
    pickTool(4);
    expect(work().picked).toBeNull();
    pickTool(0);
    pickTool(6);
    expect(work().picked).toBeNull();
    await vi.waitFor(() => expect(work().answer).toEqual(clean));
    await vi.waitFor(() => expect(calls).toHaveLength(1));
    expect(calls[0]?.body).toMatchObject({ from_tool: 0, to_tool: 6 });
  });

  it("takes the last of two that are chosen quickly", async () => {
    const answers = [contact, clean];
    play({ "POST /api/preview": () => [200, answers.shift()] });
    await Promise.all([chooseExchange({ from: 4, to: 9 }), chooseExchange({ from: 2, to: 9 })]);
    expect(work().pair).toEqual({ from: 2, to: 9 });
    expect(work().answer).toEqual(clean);
  });

  it("is not what is shown until its answer is, nor where an entry was refused meanwhile", async () => {
    const faults = [{ where: PITCH, what: "no" }];
    const bad = { ...clean, faults, derived: null };
    const wrong = (body: Record<string, unknown>) => JSON.stringify(body.document).includes('"pitch":-3');
    play({
      "POST /api/preview": (body) => [200, wrong(body) ? bad : contact],
      "PUT /api/machines/heron": (body) => stored(body),
    });
    expect(isCurrentNow()).toBe(true);
    const chosen = chooseExchange({ from: 4, to: 9 });
    expect(isCurrentNow()).toBe(false);
    const edited = edit(PITCH, -3);
    await Promise.all([chosen, edited]);
    await vi.waitFor(() => expect(isCurrentNow()).toBe(true));
    expect(work().answer).toEqual(contact);
    const other = edit(PITCH, 58.6);
    expect(isCurrentNow()).toBe(false);
    await other;
    await settled();
    expect(isCurrentNow()).toBe(true);
  });

  it("says that there is no connection, and asks again", async () => {
    let lost = true;
    play({ "POST /api/preview": () => (lost ? new TypeError("Failed to fetch") : [200, contact]) });
    await chooseExchange({ from: 4, to: 9 });
    expect(work().saving).toBe("offline");
    expect(isCurrentNow()).toBe(false);
    lost = false;
    await vi.waitFor(() => expect(work().saving).toBe("saved"), { timeout: 4000 });
    expect(work().answer).toEqual(contact);
  });

  it("shows another control profile's text", async () => {
    const calls = play({ "POST /api/preview": preview });
    await showProfile("plain words");
    expect(calls[0]?.body).toMatchObject({ profile: "plain words", from_tool: 2 });
    expect(work().profile).toBe("plain words");
  });
});
