/** What the server understands of a typed quantity: the one place where numbers are read. */
import { client, type Kind, refusal } from "../api/client";
import type { MachineUnit } from "../quantity/format";
import { NO_CONNECTION, NO_SESSION } from "./unsent";

/** It can't be asked now; the number is to be kept. */
export class NotAsked extends Error {}

type Lose = (signedOut: boolean) => void;
type Understood = Awaited<ReturnType<typeof ask>>;

/** What was asked last: a number is asked while it is typed, and again when it is taken. */
let last: { question: string; answer: Promise<Understood> } | null = null;

/** `lose` is called where there is no connection (false) or the session has ended (true). */
export function understood(text: string, kind: Kind, unit: MachineUnit, lose: Lose): Promise<Understood> {
  const question = JSON.stringify([text, kind, unit]);
  if (last?.question === question) return last.answer;
  const answer = ask(text, kind, unit, lose);
  const asked = { question, answer };
  last = asked;
  const forget = () => {
    if (last === asked) last = null;
  };
  answer.then((found) => found.value === null && forget(), forget); // what was refused is asked anew
  return answer;
}

async function ask(text: string, kind: Kind, unit: MachineUnit, lose: Lose) {
  const answer = await client.POST("/api/quantity", { body: { text, kind, unit } }).catch(() => null);
  if (!answer) {
    lose(false);
    throw new NotAsked(NO_CONNECTION);
  }
  if (answer.response.status === 401) {
    lose(true);
    throw new NotAsked(NO_SESSION);
  }
  if (!answer.data) return { value: null, unit: "", what: refusal(answer.error), column: 0 };
  return answer.data;
}
