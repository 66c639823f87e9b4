/** What the server understands of a typed quantity: the one place where numbers are read. */
import { client, type Kind, refusal } from "../api/client";
import { useWork } from "../work/store";
import type { MachineUnit } from "./format";

export const NO_CONNECTION = "No connection to the server; retrying. The number is kept here.";
export const NO_SESSION = "Your session has ended. The number is kept here; sign in again and it is sent.";

/** It can't be asked now; the number is to be kept. */
export class NotAsked extends Error {}

type Understood = Awaited<ReturnType<typeof ask>>;

/** What was asked last: a number is asked while it is typed, and again when it is taken. */
let last: { question: string; answer: Promise<Understood> } | null = null;

export function understand(text: string, kind: Kind, unit: MachineUnit): Promise<Understood> {
  const question = JSON.stringify([text, kind, unit]);
  if (last?.question === question) return last.answer;
  const answer = ask(text, kind, unit);
  const asked = { question, answer };
  last = asked;
  const forget = () => {
    if (last === asked) last = null;
  };
  answer.then((found) => found.value === null && forget(), forget); // what was refused is asked anew
  return answer;
}

async function ask(text: string, kind: Kind, unit: MachineUnit) {
  const answer = await client.POST("/api/quantity", { body: { text, kind, unit } }).catch(() => null);
  if (!answer) {
    useWork.getState().lose(false);
    throw new NotAsked(NO_CONNECTION);
  }
  if (answer.response.status === 401) {
    useWork.getState().lose(true);
    throw new NotAsked(NO_SESSION);
  }
  if (!answer.data) return { value: null, unit: "", what: refusal(answer.error), column: 0 };
  return answer.data;
}

/** A number without a unit, as a control shows it; or what is wrong with it. */
export async function plainNumber(text: string): Promise<number | string> {
  try {
    const found = await understand(text, "count", "mm");
    return found.value ?? found.what ?? "Type the number as the control shows it.";
  } catch (failed) {
    return failed instanceof Error ? failed.message : NO_CONNECTION;
  }
}
