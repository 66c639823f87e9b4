/** A kind of sequence that nothing else knows is played like any other: in the address, the title, the score and by its name. */
import { act, render, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Played } from "../api/client";
import { Score } from "../score/score";
import { keyOf, sequenceName, stageAddress, VIEWS } from "../sequences";
import type { Sequence, SequenceView } from "../sequences/sequence";
import { Following } from "../shell/following";
import type { StageView } from "../stages/stage";
import { asked } from "../work/asking";
import { traceOf, useDocument } from "../work/document";
import { useSelection } from "../work/selection";

import { clean, heron, opened, play, sized } from "./heron";

const JOG = { kind: "jog", axis: "X" } as unknown as Sequence;
const view = {
  kind: "jog",
  name: () => "jogging X",
  stage: "signals",
  answer: "signals",
  address: () => ({ axis: "X" }),
  parts: () => ({ axis: "X" }),
  title: () => "jog X",
  place: (parts: { axis?: string | null }) => ({ pair: { from: 0, to: parts.axis === "Y" ? 2 : 1 } }),
  none: "Choose an axis.",
  open: async () => {},
} as unknown as SequenceView;
const STAGE = { name: "signals", answer: "signals", plays: true } as unknown as StageView;

afterEach(() => {
  VIEWS.delete(JOG.kind);
  window.history.replaceState(null, "", "/");
});

describe("a kind of sequence of its own", () => {
  it("has its name, its address, its title, and is played as the answer says", async () => {
    VIEWS.set(view.kind, view);
    sized();
    opened();
    play({});
    const shown = { stage: "signals" as const, answer: { ...clean, exchange: null, played: null } };
    useSelection.setState({ stage: shown.stage });
    useDocument.setState({ answer: shown.answer, answered: asked(heron, useSelection.getState()) });
    render(<Following stage={STAGE} />);
    render(<Score />);
    expect(screen.getByText("Choose an axis.")).toBeTruthy();
    await waitFor(() => expect(document.title).toMatch(/^jog X · Signals/));
    await waitFor(() => expect(window.location.search).toBe("?axis=X"));
    expect([sequenceName(JOG), stageAddress("heron", JOG)]).toEqual(["jogging X", "/machines/heron/signals"]);
    expect(keyOf(JOG)).toBe('{"axis":"X","kind":"jog"}');
    const played = { trace: clean.exchange?.trace, findings: [] } as unknown as Played;
    act(() => useDocument.setState({ answer: { ...shown.answer, signals: played as never, played: "signals" } }));
    expect(traceOf(useDocument.getState())).toBe(clean.exchange?.trace);
    expect(screen.queryByText("Choose an axis.")).toBeNull();
  });

  it("is where an address with its parts leads", async () => {
    VIEWS.set(view.kind, view);
    opened();
    const calls = play({ "POST /api/preview": () => [200, clean] });
    window.history.replaceState(null, "", "/?axis=Y");
    useSelection.setState({ stage: "signals", pair: null });
    useDocument.setState({ answered: asked(heron, useSelection.getState()) });
    render(<Following stage={STAGE} />);
    await waitFor(() => expect(useSelection.getState().pair).toEqual({ from: 0, to: 2 }));
    expect(calls.some((call) => call.path === "/api/preview")).toBe(true);
  });
});
