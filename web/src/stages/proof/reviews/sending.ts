/** A text on its way to the server: in pieces, so that it can be of any size, with how far it is. */
import { client, noConnection, type ReviewSummary, refusal } from "../../../api/client";

const PIECE = 1_500_000;
/** characters that are sent at a time */

export interface ReviewRequest {
  file: string;
  purpose: ReviewSummary["purpose"];
  profile: string;
  text: string;
}

/** The pieces of a text: none ends within a character. */
export function* piecesOf(text: string, length = PIECE): Generator<string> {
  for (let at = 0; at < text.length; ) {
    let end = Math.min(at + length, text.length);
    const last = text.charCodeAt(end - 1);
    if (end < text.length && last >= 0xd800 && last < 0xdc00) end -= end - at > 1 ? 1 : -1;
    yield text.slice(at, end);
    at = end;
  }
}

/** Send a program to be reviewed; `tell` gets the share that is there, 0 to 1. The review that runs then, or why there is none. */
export async function send(
  slug: string,
  { text, ...wanted }: ReviewRequest,
  tell: (share: number) => void,
  signal: AbortSignal,
): Promise<ReviewSummary | string> {
  const size = new Blob([text]).size;
  const params = { path: { slug } };
  const body = { ...wanted, size };
  const begun = await client.POST("/api/machines/{slug}/reviews", { params, body }).catch(noConnection);
  if (!begun.data) return refusal(begun.error);
  let review: ReviewSummary = begun.data;
  for (const piece of piecesOf(text)) {
    if (signal.aborted) break;
    const sent = await client
      .POST("/api/machines/{slug}/reviews/{number}/pieces", {
        params: { path: { slug, number: review.id } },
        body: { at: review.here, text: piece },
      })
      .catch(noConnection);
    if (!sent.data) return refusal(sent.error);
    review = sent.data;
    tell(review.here / size);
  }
  return review;
}

/** The text of a review, piece by piece; "" where it is gone. */
export async function textOf(slug: string, number: number, tell: (bytes: number) => void): Promise<string> {
  const decoder = new TextDecoder();
  const parts: string[] = [];
  for (let at = 0; ; ) {
    const answer = await fetch(`/api/machines/${slug}/reviews/${number}/text?at=${at}`).catch(() => null);
    if (!answer) throw new Error(refusal(noConnection().error));
    if (!answer.ok) throw new Error(refusal(await answer.json().catch(() => undefined)));
    const piece = await answer.arrayBuffer();
    if (!piece.byteLength) break;
    parts.push(decoder.decode(piece, { stream: true }));
    at += piece.byteLength;
    tell(at);
  }
  return parts.join("") + decoder.decode();
}
