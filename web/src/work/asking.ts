/** Asking the server what follows from a document: one question at a time is the newest, and only its answer is shown. */
import { type Answer, client, type PreviewIn, refusal, type Setup } from "../api/client";
import { blockAt } from "../trace/evaluate";
import { type GetWork, type Pair, playedOf, type SetWork, type Work } from "./work";

/** Tells this window's questions from another's. */
const WINDOW = Math.random().toString(36).slice(2);

/** What an answer depends on, in one order. */
export function asked(work: Omit<PreviewQuestion, "document"> & { document: Setup | null }): unknown[] {
  const { document, pair, profile, stage, imported, fault, measuring, byHand } = work;
  return [document, pair?.from, pair?.to, profile, stage, imported, fault, measuring, byHand];
}

/** Whether the answer is that of what is chosen and entered: a text that isn't must not go to a machine. */
export function isCurrent(work: Work): boolean {
  const now = asked(work);
  return !work.entering && !!work.answer && now.every((value, index) => value === work.answered[index]);
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

export type PreviewQuestion = Pick<
  Work,
  "pair" | "profile" | "stage" | "imported" | "fault" | "measuring" | "byHand"
> & {
  document: Setup;
};

export async function preview(
  { document, pair, profile, stage, imported, fault, measuring, byHand }: PreviewQuestion,
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
export async function ask(set: SetWork, get: GetWork, more: Partial<Work> = {}): Promise<Answer | null> {
  const turn = nextTurn();
  for (;;) {
    const { document } = get();
    if (!document) return null;
    const question = { ...get(), document };
    const answer = await preview(question).catch(lost(set, get));
    if (!answer || !isNewest(turn)) return null;
    if (get().document !== document) continue;
    set({ ...found(question, answer), ...cursor(get(), answer), ...more });
    return answer;
  }
}

/** What a preview that did not come says: the session has ended, there is no connection, or why it is refused. */
export function lost(set: SetWork, get: GetWork) {
  return (failed: unknown): null => {
    if (failed instanceof Unanswered && failed.status !== 401) {
      if (failed.status !== SUPERSEDED) set({ trouble: failed.said });
    } else get().lose(failed instanceof Unanswered);
    return null;
  };
}

/** Where the line of time stands in a new trace: at the same moment, if there is one. */
export function cursor(work: Work, answer: Answer): Partial<Work> {
  const trace = playedOf({ answer })?.trace;
  const gone = !playedOf({ answer })?.findings.some((finding) => finding.message === work.chosen?.message);
  const chosen = gone ? null : work.chosen;
  if (!trace) return { time: 0, block: 0, chosen };
  const time = Math.min(work.time, trace.seconds);
  return { time, block: blockAt(trace, time), chosen };
}

export function found(question: PreviewQuestion, answer: Answer) {
  const pair = paired(answer) ?? question.pair;
  return { answer, pair, answered: asked({ ...question, pair }) };
}

function paired(answer: Answer): Pair | null {
  return answer.exchange ? { from: answer.exchange.from_tool, to: answer.exchange.to_tool } : null;
}
