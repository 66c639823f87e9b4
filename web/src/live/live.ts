/** The machine as it works: its state over a WebSocket, and commands to it. What is shown here is reported by the machine. */
import { create } from "zustand";
import type { RunOf } from "../api/client";
import { useDocument } from "../work/document";
import { refresh } from "../work/saving";

export type Axis = "X" | "Y" | "Z";
export const AXES: Axis[] = ["X", "Y", "Z"];

export interface MachineReport {
  position: Partial<Record<Axis, number>>;
  part: Partial<Record<Axis, number>>;
  homed: boolean | null;
  execution: string;
  block: string;
  line: number;
  tool: number | null;
  offset: number | null;
  spindle: number | null;
  powered: boolean;
  alarm: string;
  message: string;
  inputs: Record<string, boolean>;
  outputs: Record<string, boolean>;
  dials: Partial<Record<Axis, number>>;
  /** the agent's time of the newest position, seconds */
  when: number | null;
}

export interface Change {
  name: string;
  at: number;
  made: boolean;
}

export interface Standing {
  standing: "connecting" | "connected" | "slow" | "lost";
  says: string;
  age: number | null;
}

/** What the technician's hands do at the practice machine: which inputs they make, whose lead is out. */
export interface InHand {
  made: number[];
  leads: Record<string, "sound" | "broken" | "to ground">;
  speed: string;
  /** the control's record of the tool in the spindle */
  record: number;
  doubtful: boolean;
}

/** What the control shows on its pages, mm: lengths by tool, the parameters that programs work with, the length in force. */
/** A program that was run there, as whoever ran it said what it is. */
export interface Ran {
  of: Partial<RunOf>;
  at: string;
  homing: number;
}

export interface Pages {
  lengths: Record<string, number>;
  parameters: Record<string, number>;
  active?: { tool: number; length: number } | null;
  /** where the touches of the last program were latched, and the routine whose part lies there */
  touches?: [number, number, number][];
  lies?: string;
  /** the last program: what it is, when it began, after which homing, and the parameters that it wrote; null: none yet */
  ran?: (Ran & { wrote: number[] }) | null;
  /** by which program each length was set */
  measured?: Record<string, Ran>;
  /** a program or a move is still under way: more may come */
  busy?: boolean;
}

export interface Answer {
  refused?: string;
  pages?: Pages;
  hands?: InHand;
  sight?: { pocket: number; dx: number; dy: number } | null;
  truth?: { name: string; where: string; nominal: number; true: number; unit: string }[];
  seed?: number;
  /** the step of a go there that was begun */
  step?: string;
  reversed_input?: string;
}

interface Live {
  slug: string | null;
  from: string;
  link: Standing;
  reported: MachineReport | null;
  edges: Change[];
  /** what the last command was refused with */
  refused: string;
  armed: boolean;
  /** mm; null: for as long as it is held */
  step: number | null;
  feed: number;
  creep: boolean;
  /** the way each axis went last, for the side that a dial reading came from */
  came: Record<Axis, 1 | -1>;
  sight: { pocket: number; dx: number; dy: number } | null | undefined;
  hands: InHand | null;
  /** how often something was begun from here that the control's pages change by */
  runs: number;
  /** Do something with one's hands, and see how they are then. */
  handle: (command: Record<string, unknown>) => Promise<void>;
  /** `from`: the address and device that the machine is read from; another one is connected to anew */
  follow: (slug: string, from: string) => void;
  leave: () => void;
  send: (command: Record<string, unknown>) => Promise<Answer>;
  jog: (axis: Axis, sign: 1 | -1) => void;
  release: () => void;
  set: (part: Partial<Pick<Live, "armed" | "step" | "feed" | "creep" | "refused" | "sight">>) => void;
}

const AGAIN = 1000;
/** ms until a lost connection to the server is tried again */

const ALIVE = 100;
/** ms between two signs of life of a held jog */

/** Commands that what the control's pages show is changed by */
const CHANGING = ["run", "put down", "half turn"];

const NO_SERVER: Standing = {
  standing: "lost",
  says: "No connection to the server; what was held has stopped.",
  age: null,
};

let socket: WebSocket | null = null;
let number = 0;
let waiting = new Map<number, (answer: Answer) => void>();
let alive: ReturnType<typeof setInterval> | undefined;

/** Send a command; its answer, or why it was not sent. */
function send(set: (part: Partial<Live>) => void, command: Record<string, unknown>): Promise<Answer> {
  return new Promise((done) => {
    const settle = (answer: Answer) => {
      set({ refused: answer.refused ?? "" });
      done(answer);
    };
    if (socket?.readyState !== WebSocket.OPEN) {
      settle({ refused: "There is no connection to the server; nothing was sent." });
      return;
    }
    const id = ++number;
    waiting.set(id, settle);
    socket.send(JSON.stringify({ id, ...command }));
  });
}

export const useLive = create<Live>((set, get) => ({
  slug: null,
  from: "",
  link: { standing: "connecting", says: "Connecting.", age: null },
  reported: null,
  edges: [],
  refused: "",
  armed: false,
  step: 1,
  feed: 2000,
  creep: false,
  came: { X: 1, Y: 1, Z: 1 },
  sight: undefined,
  hands: null,
  runs: 0,

  async handle(command) {
    const answer = await get().send(command);
    if (answer.refused) return;
    const { hands } = await get().send({ do: "hands" });
    if (hands) set({ hands });
  },

  follow(slug, from) {
    if (get().slug === slug && get().from === from) return;
    get().leave();
    set({ slug, from, link: { standing: "connecting", says: "Connecting.", age: null } });
    connect(slug, set, get);
  },

  leave() {
    set({ slug: null, reported: null, edges: [], armed: false, sight: undefined, hands: null, refused: "" });
    socket?.close();
    socket = null;
    clearInterval(alive);
  },

  send(command) {
    const answer = send(set, command);
    // once it is on its way: what is asked for because of it comes after it
    if (CHANGING.includes(String(command.do))) set({ runs: get().runs + 1 });
    return answer;
  },

  jog(axis, sign) {
    const { step, feed, creep, send, came } = get();
    set({ came: { ...came, [axis]: sign }, sight: undefined });
    if (step !== null) {
      void send({ do: "jog", axis, by: sign * step, feed, creep });
      return;
    }
    void send({ do: "jog", axis, by: sign, feed, creep, held: true });
    clearInterval(alive);
    alive = setInterval(() => socket?.readyState === WebSocket.OPEN && socket.send('{"do":"alive"}'), ALIVE);
  },

  release() {
    if (alive === undefined) return;
    clearInterval(alive);
    alive = undefined;
    if (socket?.readyState === WebSocket.OPEN) void get().send({ do: "release" });
  },

  set,
}));

type Set = (part: Partial<Live>) => void;

function connect(slug: string, set: Set, get: () => Live) {
  const address = `${location.protocol === "https:" ? "wss" : "ws"}://${location.host}/live/${slug}`;
  const opened = new WebSocket(address);
  socket = opened;
  opened.onopen = () => {
    if (useDocument.getState().machine?.agent !== "") return;
    void get()
      .send({ do: "hands" })
      .then(({ hands }) => set({ hands: hands ?? null, refused: "" }));
  };
  opened.onmessage = (event) => {
    const data = JSON.parse(event.data as string) as {
      link?: Standing;
      machine?: MachineReport;
      edges?: Change[];
      answer?: Answer & { id: number | null };
    };
    if (socket !== opened) return; // of another machine, or of the same one read from elsewhere
    if (data.link && data.machine) set({ link: data.link, reported: data.machine, edges: data.edges ?? [] });
    if (data.answer && data.answer.id !== null) {
      waiting.get(data.answer.id)?.(data.answer);
      waiting.delete(data.answer.id);
    }
  };
  opened.onclose = (event) => {
    if (socket !== opened) return;
    clearInterval(alive);
    alive = undefined;
    const lost = [...waiting.values()];
    waiting = new Map();
    for (const settle of lost)
      settle({ refused: "The connection was lost before the machine answered; look where it stands." });
    const says = event.code === 4403 ? "Your session has ended; sign in again." : event.reason || NO_SERVER.says;
    set({ link: { ...NO_SERVER, says }, reported: event.code === 4409 ? null : get().reported, armed: false });
    if (event.code === 4409) void refresh();
    if (get().slug === slug)
      setTimeout(() => get().slug === slug && socket === opened && connect(slug, set, get), AGAIN);
  };
}
