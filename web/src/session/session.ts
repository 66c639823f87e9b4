/** Who is signed in. */
import { create } from "zustand";
import { client, noConnection, refusal, type Session } from "../api/client";

interface Signed {
  session: Session | null;
  trouble: string | null;
  /** an earlier revision is looked at, which is not changed any more */
  looksBack: boolean;
  load: () => Promise<void>;
  enter: (user: string, password: string) => Promise<boolean>;
  enterDemo: (role: "viewer" | "technician" | "supervisor") => Promise<boolean>;
  leave: () => Promise<void>;
}

const ORDER = ["viewer", "technician", "supervisor"];

export const useSession = create<Signed>((set) => ({
  session: null,
  trouble: null,
  looksBack: false,
  async load() {
    try {
      const { data } = await client.GET("/api/session");
      if (data) set({ session: data, trouble: null });
    } catch {
      set({ trouble: "No connection to the server. Is it running?" });
    }
  },
  async enter(user, password) {
    const { data, error } = await client.POST("/api/session", { body: { user, password } }).catch(noConnection);
    set(data ? { session: data, trouble: null } : { trouble: refusal(error) });
    return data !== undefined;
  },
  async enterDemo(role) {
    const { data, error } = await client.POST("/api/session/demo", { body: { role } }).catch(noConnection);
    set(data ? { session: data, trouble: null } : { trouble: refusal(error) });
    return data !== undefined;
  },
  async leave() {
    const { data, error } = await client.DELETE("/api/session").catch(noConnection);
    set(data ? { session: data, trouble: null } : { trouble: refusal(error) });
  },
}));

type Role = "technician" | "supervisor";

/** Whether who is signed in has this role, or more. */
export function is(role: Role): boolean {
  const mine = useSession.getState().session?.role;
  return mine !== null && mine !== undefined && ORDER.indexOf(mine) >= ORDER.indexOf(role);
}

/** Whether the interface offers a change; the server decides for itself. */
export const may = (role: Role): boolean => is(role) && !useSession.getState().looksBack;
