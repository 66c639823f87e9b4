/**
 * The machine that is worked on: its document, what follows from it, and the way to the server.
 *
 * An edit is previewed first; only a document without faults becomes the document. It is saved at once, one request at a
 * time, and kept in the browser until the server has acknowledged it, so that neither a reload nor a lost connection nor
 * an ended session loses a number.
 */
import { create } from "zustand";
import { choosing } from "./choosing";
import { editing, entering as enteringIn } from "./editing";
import { NOTHING, opening } from "./opening";
import { playing } from "./playing";
import { resend as resendIn, saving } from "./saving";
import type { Work } from "./work";

export const useWork = create<Work>((set, get) => ({
  ...NOTHING,
  stage: "exchange",
  entering: 0,
  ...opening(set, get),
  ...editing(set, get),
  ...choosing(set, get),
  ...playing(set, get),
  ...saving(set, get),
}));

const { setState, getState } = useWork;

/** Until this has ended, no answer is that of what was entered. */
export const entering = <Result>(work: Promise<Result>) => enteringIn(setState, getState, work);

/** Send what was typed while it could not be sent; what is refused stays, with the reason. */
export const resend = () => resendIn(setState, getState);
