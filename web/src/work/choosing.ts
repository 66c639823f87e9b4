/** Choosing what is looked at. What played stops at once; who presses Space while the answer is awaited sees the new one play. */
import type { Answer, AnswerName, Finding } from "../api/client";
import { ask } from "./asking";
import { playedOf, useDocument } from "./document";
import { AT_START, goTo, usePlayback } from "./playback";
import { type ByHand, type MeasuringRequest, type Pair, type Selection, useSelection } from "./selection";

/** Ask for what is chosen now, from its start. */
function choose(selection: Partial<Selection>): Promise<Answer | null> {
  useSelection.setState({ byHand: [], ...selection });
  usePlayback.setState({ playing: false });
  return ask(AT_START);
}

/** Show what another stage shows of a preview. */
export async function showStage(stage: AnswerName) {
  if (useSelection.getState().stage === stage) return;
  useSelection.setState({ stage, byHand: [] });
  await ask();
}

/** Go where an address leads. */
export async function visit(place: Partial<Pick<Selection, "pair" | "measuring" | "fault" | "profile">>) {
  await choose({ ...place, picked: null, imported: null });
}

export async function chooseExchange(pair: Pair | null, finding?: Finding, fault: string | null = null) {
  if (!useDocument.getState().document) return;
  const answer = await choose({ pair, picked: null, fault });
  if (!answer) return;
  const played = playedOf({ answer });
  const under = played?.under;
  if (finding) {
    const same = played?.findings.find((entry) => entry.check === finding.check && entry.message === finding.message);
    goTo(same ?? finding);
  } else if (under?.finding) {
    const { check, line } = under.finding;
    const reported = played?.findings.find((entry) => entry.check === check && entry.line === line);
    goTo(reported ?? { ...under.finding, message: under.says });
  }
}

/** The first tool of an exchange, or its second. */
export function pickTool(tool: number) {
  const { picked } = useSelection.getState();
  if (picked === null) useSelection.setState({ picked: tool });
  else if (picked === tool) useSelection.setState({ picked: null });
  else void chooseExchange({ from: picked, to: tool });
}

/** Play without a fault again. */
export async function playWithoutFault() {
  await choose({ fault: null });
}

export async function chooseMeasuring(wanted: Partial<MeasuringRequest>, fault: string | null = null) {
  await choose({ measuring: { ...useSelection.getState().measuring, ...wanted }, imported: null, fault });
}

/** Play on with these set by hand, from where it is. */
export async function setByHand(byHand: ByHand[]) {
  const { time, block } = usePlayback.getState();
  useSelection.setState({ byHand });
  usePlayback.setState({ playing: false });
  await ask({ time, block, chosen: null });
}

/** Play a program of the user's own in place of the written one; null: the written one. */
export async function playImported(imported: Selection["imported"]) {
  await choose({ imported });
}

export async function showProfile(profile: string) {
  if (useDocument.getState().document) await choose({ profile, imported: null });
}
