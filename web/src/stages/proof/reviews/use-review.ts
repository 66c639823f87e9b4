/** The review that is open: sent, followed while it runs, its text, cancelled. */
import { useEffect, useRef, useState } from "react";
import { client, noConnection, type Review, type ReviewSummary, refusal } from "../../../api/client";
import { useAnswer } from "../../../api/query";
import { usePart } from "../../../session/address";
import { useSlug } from "../../../work/document";
import { type ReviewRequest, send, textOf } from "./sending";

const PROGRESS = 400;

const going = (review?: ReviewSummary) => review?.state === "running";

interface Text {
  of: number;
  text: string;
}

export function useReview() {
  const slug = useSlug() ?? "";
  const [number, setNumber] = useState<number | null>(null);
  const [text, setText] = useState<Text | null>(null);
  const [first, setFirst] = useState("");
  const [sent, setSent] = useState<number | null>(null);
  const [refused, setRefused] = useState("");
  const stopping = useRef(new AbortController());
  const listed = useAnswer<ReviewSummary[]>(slug ? ["reviews", slug, number, sent === null] : null, () =>
    client.GET("/api/machines/{slug}/reviews", { params: { path: { slug } } }),
  );
  const followed = useAnswer<Review>(
    slug && number !== null ? ["review", slug, number] : null,
    () => client.GET("/api/machines/{slug}/reviews/{number}", { params: { path: { slug, number: number ?? 0 } } }),
    { every: (known) => (!known || going(known)) && PROGRESS },
  );
  const review = number === null ? undefined : followed.data;
  usePart("review", number === null ? null : String(number), listed.data !== undefined, (asked) => {
    const found = listed.data?.some((entry) => String(entry.id) === asked) ?? false;
    if (found) setNumber(Number(asked));
    return found;
  });

  // The text is fetched where it was not opened in this window.
  const missing = review?.state === "done" && text?.of !== review.id;
  const wanted = missing ? review.id : null;
  useEffect(() => {
    if (wanted === null) return;
    let gone = false;
    textOf(slug, wanted, () => undefined)
      .then((found) => {
        if (gone) return;
        setText({ of: wanted, text: found });
        setFirst(found);
      })
      .catch((failed: Error) => gone || setRefused(failed.message));
    return () => {
      gone = true;
    };
  }, [slug, wanted]);

  const open = async (own: ReviewRequest, again = false) => {
    stopping.current = new AbortController();
    setRefused("");
    setSent(0);
    const begun = await send(slug, own, setSent, stopping.current.signal);
    setSent(null);
    if (typeof begun === "string") return setRefused(begun);
    if (stopping.current.signal.aborted) await cancelled(begun.id);
    else if (!again) setFirst(own.text);
    setText({ of: begun.id, text: own.text });
    setNumber(begun.id);
  };
  const cancelled = async (id: number) => {
    const { error } = await client
      .POST("/api/machines/{slug}/reviews/{number}/cancel", { params: { path: { slug, number: id } } })
      .catch(noConnection);
    if (error) setRefused(refusal(error));
  };
  // Cancelled while its last piece was on its way: it was not known here yet.
  const late = review?.state === "running" && stopping.current.signal.aborted ? review.id : null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each that is late
  useEffect(() => {
    if (late !== null) void cancelled(late);
  }, [late]);
  return {
    review,
    listed: listed.data ?? [],
    text: text !== null && text.of === review?.id ? text.text : null,
    first,
    sent,
    trouble: refused || followed.trouble,
    open,
    look: (id: number | null) => {
      stopping.current = new AbortController();
      setRefused("");
      setNumber(id);
    },
    cancel: () => {
      stopping.current.abort();
      if (review && going(review)) void cancelled(review.id).then(followed.refetch);
    },
  };
}
