/** What is taken on the way to a value (runs, touches), kept in the browser until it is used: each user's own, through reloads. */
import { useSession } from "../session/session";

interface Kept {
  persist: { setOptions: (options: { name: string }) => void; rehydrate: () => Promise<void> | void };
}

/** Options of a store that is kept; what it begins with where nothing is. */
export const keptBy = <State extends object>(name: string, empty: Partial<State>) => ({
  name: `orthotrope:${name}:`,
  skipHydration: true,
  merge: (kept: unknown, now: State): State => ({ ...now, ...empty, ...(kept as Partial<State> | undefined) }),
});

/** Keep a store's state apart for each user. */
export function keptForEach(store: Kept, name: string) {
  const take = (user: string) => {
    store.persist.setOptions({ name: `orthotrope:${name}:${user}` });
    void store.persist.rehydrate();
  };
  take(useSession.getState().session?.user ?? "");
  useSession.subscribe((now, before) => {
    const user = now.session?.user ?? "";
    if (user !== (before.session?.user ?? "")) take(user);
  });
}
