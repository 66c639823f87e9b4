/** Heron as the server answers for it, and a server that is played by the test. */
import { readFileSync } from "node:fs";
import { EditorView } from "@codemirror/view";
import { waitFor } from "@testing-library/react";
import { vi } from "vitest";
import type { Answer, Changer, Machine, Rack, Reading, Setup, Vocabulary } from "../api/client";
import { queries } from "../api/query";
import { rackOf } from "../changers/of-changer";
import { useSession } from "../session/session";
import { asked } from "../work/asking";
import { useDocument } from "../work/document";
import { closeMachine } from "../work/opening";
import { read, write } from "../work/pointer";
import { useSelection } from "../work/selection";
import { useVocabulary } from "../work/vocabulary";

type ThreadOn = Extract<Changer, { style: "thread-on" }>;

const answers = JSON.parse(readFileSync("../var/tests/answers.json", "utf8")) as {
  document: Setup & { changer: ThreadOn | null };
  clean: Answer;
  contact: Answer;
  machine: Answer;
  signals: Answer;
  measuring: Answer;
  /** of Curlew: a corner, and a slot of a control that can't do the sums */
  probing: Answer;
  touches: Answer;
  taught: Answer;
  under: Answer;
  words: Vocabulary;
  others: Record<"curlew" | "plover" | "godwit" | "knot", { document: Setup; answer: Answer }>;
};
export const { document: heron, clean, contact } = answers;
export const ofMachine = answers.machine;
export const ofSignals = answers.signals;
export const ofMeasuring = answers.measuring;
export const ofProbing = answers.probing;
export const ofTouches = answers.touches;
export const ofTaught = answers.taught;
export const ofUnder = answers.under;
export const others = answers.others;

export const machine: Machine = {
  slug: "heron",
  put_away: null,
  revision: 1,
  author: "supervisor",
  changed: "2026-11-25T08:00:00Z",
  document: heron,
  stages: [
    { name: "Machine", mark: "filled", why: "", planned: [] },
    { name: "Signals", mark: "filled", why: "", planned: [] },
    { name: "Changer", mark: "filled", why: "", planned: [] },
    { name: "Setter", mark: "filled", why: "", planned: [] },
    { name: "Tools", mark: "filled", why: "", planned: [] },
    { name: "Proof", mark: "open", why: "No proof has been run.", planned: [] },
  ],
  proof: null,
  agent: "",
  device: "",
  tests: [],
};

/** The rack as it is in the work now. */
export function rackNow(): Rack | undefined {
  return rackOf(useDocument.getState().document?.changer);
}

export interface Call {
  method: string;
  path: string;
  body: Record<string, unknown>;
}

/** What the core's merge gives where nobody else has changed anything. */
function merged({ base, mine, theirs }: Call["body"]): [number, unknown] {
  const alone = JSON.stringify(base) === JSON.stringify(theirs);
  return [200, { document: alone ? mine : theirs, left: [] }];
}

/** What the core gives for an entry that is added to the end of a list. */
function withEntry({ document, where, entry }: Call["body"]): [number, unknown] {
  const list = read(document, where as string) as unknown[];
  return [200, { document: write(document, where as string, [...list, entry]), name: "", says: [] }];
}

const OF_THE_CORE: Record<string, (body: Call["body"]) => [number, unknown]> = {
  "/api/merge": merged,
  "/api/adding/entry": withEntry,
};

/** Answers requests; what a route gives is [status, body], or an error that stands for a lost connection. */
export function play(routes: Record<string, (body: Call["body"]) => [number, unknown] | Error>): Call[] {
  const calls: Call[] = [];
  queries.clear(); // what was answered before is of other routes
  vi.stubGlobal("fetch", async (input: Request | string, init?: RequestInit) => {
    const request = input instanceof Request ? input : new Request(new URL(input, "http://localhost"), init);
    const text = request.method === "GET" ? "" : await request.text();
    const call = {
      method: request.method,
      path: new URL(request.url).pathname,
      body: text.startsWith("{") ? JSON.parse(text) : {},
    };
    calls.push(call);
    const route = routes[`${call.method} ${call.path}`] ?? OF_THE_CORE[call.path];
    if (!route) throw new Error(`no route for ${call.method} ${call.path}`);
    const answer = route(call.body);
    if (answer instanceof Error) throw answer;
    return new Response(JSON.stringify(answer[1]), {
      status: answer[0],
      headers: { "Content-Type": "application/json" },
    });
  });
  return calls;
}

/** Heron is open, by a person of this role. */
export function opened(answer: Answer = clean, role: "viewer" | "technician" | "supervisor" = "technician"): void {
  useSession.setState({ trouble: null, session: { user: role, role, demo_accounts: [] } });
  useVocabulary.setState(answers.words);
  closeMachine();
  useDocument.setState({ slug: "heron", machine, document: heron, base: heron, baseRevision: 1, answer });
  useSelection.setState({ pair: { from: 2, to: 9 } });
  useDocument.setState({ answered: asked(heron, useSelection.getState()) });
}

/** Elements have a size in tests as on a screen. */
export function sized(width = 720, height = 520): void {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      constructor(private reported: (entries: object[]) => void) {}
      observe(target: Element) {
        const size = [{ inlineSize: width, blockSize: height }];
        this.reported([{ target, contentRect: { width, height }, borderBoxSize: size, contentBoxSize: size }]);
      }
      disconnect() {}
      unobserve() {}
    },
  );
}

/** The program text that is shown, whole: an editor draws only what is in sight. */
export async function textShown(): Promise<string> {
  const editor = await waitFor(() => {
    const found = document.querySelector<HTMLElement>("[data-program] .cm-editor");
    if (!found) throw new Error("no text is shown");
    return found;
  });
  return EditorView.findFromDOM(editor)?.state.doc.toString() ?? "";
}

/** A reading as the server answers it. */
export const reading = (part: Partial<Reading>): Reading => ({
  id: 1,
  quantity: "/changer/rack/datum/x",
  pointer: "/changer/rack/datum/x",
  source: "machine",
  value: 128.88,
  raw: 128.8813,
  step: 0.005,
  position: [128.8813, 20, -5],
  work_offset: 1,
  tool: 0,
  tool_length: null,
  says: "machine X",
  rests_on: {},
  replaced: [],
  measured_at: null,
  half_width_95: null,
  came: null,
  difference: null,
  agrees: null,
  slip: "",
  author: "technician",
  taken: new Date().toISOString(),
  ...part,
});
