/** Asking the server what follows from a document: one question at a time is the newest, and only its answer is shown. */
import { type Answer, client, type PreviewIn, refusal, type Setup } from "../api/client";
import { blockAt } from "../trace/evaluate";
import { type DocumentState, lose, playedOf, useDocument } from "./document";
import { type Playback, usePlayback } from "./playback";
import { type Pair, type Selection, useSelection } from "./selection";

/** Tells this window's questions from another's. */
const WINDOW = Math.random().toString(36).slice(2);

/** What an answer depends on, in one order. */
export function asked(document: Setup | null, selection: Asked): unknown[] {
  const { pair, profile, stage, imported, fault, measuring, byHand } = selection;
  return [document, pair?.from, pair?.to, profile, stage, imported, fault, measuring, byHand];
}

/** Whether the answer is that of what is chosen and entered: a text that isn't must not go to a machine. */
export function isCurrent(work: DocumentState, selection: Selection): boolean {
  return !work.entering && answers(work, selection);
}

/** Whether the answer is that of the document and of what is chosen. */
export function answers({ document, answer, answered }: DocumentState, selection: Selection): boolean {
  return !!answer && asked(document, selection).every((value, index) => value === answered[index]);
}

/** Whether it is so now, for what happens at a key or a click. */
export const isCurrentNow = () => isCurrent(useDocument.getState(), useSelection.getState());

export function useCurrent(): boolean {
  const selection = useSelection();
  return useDocument((work) => isCurrent(work, selection));
}

/** Questions that this window has asked: two that are sent together may arrive in either order. */
let questions = 0;

let turns = 0;

/** The number of a question that takes the place of those before it. */
export const nextTurn = () => ++turns;

export const isNewest = (turn: number) => turn === turns;

/** what the server answers where a later question of this window has taken the place of this one */
const SUPERSEDED = 204;

export class Unanswered extends Error {
  constructor(
    public status: number,
    public said: string,
  ) {
    super(said);
  }
}

/** What of the selection is asked for. */
export type Asked = Pick<Selection, "pair" | "profile" | "stage" | "imported" | "fault" | "measuring" | "byHand">;

export async function preview(
  document: Setup,
  { pair, profile, stage, imported, fault, measuring, byHand }: Asked,
  purpose: "edit" | "look" = "look",
): Promise<Answer> {
  for (;;) {
    const { data, error, response } = await client.POST("/api/preview", {
      headers: { "X-Window": `${WINDOW}-${purpose}`, "X-Question": String(++questions) },
      body: {
        document,
        from_tool: pair?.from ?? null,
        to_tool: pair?.to ?? null,
        profile,
        stage,
        program: imported?.text ?? null,
        purpose: imported?.purpose ?? null,
        fault: fault as PreviewIn["fault"] | null,
        by_hand: byHand,
        ...measuring,
      },
    });
    if (data) return data;
    if (response.status !== SUPERSEDED || purpose === "look") throw new Unanswered(response.status, refusal(error));
  }
}

/** Ask for what the stage shows, and show it if nothing newer was asked for meanwhile; of another document it is asked anew. */
export async function ask(at: Partial<Playback> = {}): Promise<Answer | null> {
  const turn = nextTurn();
  for (;;) {
    const { document } = useDocument.getState();
    if (!document) return null;
    const selection = useSelection.getState();
    const answer = await preview(document, selection).catch(lost);
    if (!answer || !isNewest(turn)) return null;
    if (useDocument.getState().document !== document) continue;
    show(document, selection, answer, at);
    return answer;
  }
}

/** What a preview that did not come says: the session has ended, there is no connection, or why it is refused. */
export function lost(failed: unknown): null {
  if (failed instanceof Unanswered && failed.status !== 401) {
    if (failed.status !== SUPERSEDED) useDocument.setState({ trouble: failed.said });
  } else lose(failed instanceof Unanswered);
  return null;
}

/** Make an answer the one that is shown: to this document, and to what was chosen when it was asked for. */
export function show(document: Setup, selection: Asked, answer: Answer, at: Partial<Playback> = {}) {
  const pair = paired(answer) ?? selection.pair;
  useSelection.setState({ pair });
  useDocument.setState({ document, answer, answered: asked(document, { ...selection, pair }) });
  usePlayback.setState({ ...cursor(usePlayback.getState(), answer), ...at });
}

/** Where the line of time stands in a new trace: at the same moment, if there is one. */
function cursor({ time, chosen }: Playback, answer: Answer): Partial<Playback> {
  const played = playedOf({ answer });
  const still = played?.findings.some((finding) => finding.message === chosen?.message) ? chosen : null;
  if (!played?.trace) return { time: 0, block: 0, chosen: still };
  const at = Math.min(time, played.trace.seconds);
  return { time: at, block: blockAt(played.trace, at), chosen: still };
}

function paired(answer: Answer): Pair | null {
  return answer.exchange ? { from: answer.exchange.from_tool, to: answer.exchange.to_tool } : null;
}
