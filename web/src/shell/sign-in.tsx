import { type FormEvent, type ReactNode, useState } from "react";
import { Mark } from "../common/marks";
import { useSession } from "../session/session";

const WHAT: Record<string, string> = {
  viewer: "reads everything, changes nothing",
  technician: "edits, writes programs, runs proofs",
  supervisor: "all of that; later, signs releases",
};

/** The page before all others. A demo offers its accounts, one click each. */
export function SignIn({ onEntered, within }: { onEntered?: () => void; within?: boolean }) {
  return (
    <Ground within={within}>
      <div className={within ? "" : "w-[400px] max-w-full border border-rule bg-panel p-7"}>
        {!within && (
          <>
            <div className="flex items-center gap-3 text-[26px] font-semibold">
              <Mark size={34} /> Orthotrope
            </div>
            <p className="mt-2 text-ink-2">
              Tool changes worked out, written, and proven on a virtual machine before metal moves.
            </p>
          </>
        )}
        <DemoAccounts onEntered={onEntered} />
        <Account onEntered={onEntered} />
      </div>
    </Ground>
  );
}

function DemoAccounts({ onEntered }: { onEntered?: () => void }) {
  const { session, enterDemo } = useSession();
  if (!session?.demo_accounts.length) return null;
  return (
    <section className="mt-5 border-t border-rule pt-4">
      <h2 className="font-semibold">This is a demo. Sign in as</h2>
      <div className="mt-2 grid gap-2">
        {(session.demo_accounts as ("viewer" | "technician" | "supervisor")[]).map((role) => (
          <button
            key={role}
            type="button"
            className="button plain justify-start!"
            onClick={async () => (await enterDemo(role)) && onEntered?.()}
          >
            <b className="font-semibold">{role}</b> <span className="text-ink-2">{WHAT[role]}</span>
          </button>
        ))}
      </div>
    </section>
  );
}

function Account({ onEntered }: { onEntered?: () => void }) {
  const { trouble, enter } = useSession();
  const [user, setUser] = useState("");
  const [password, setPassword] = useState("");

  async function submit(event: FormEvent) {
    event.preventDefault();
    if (await enter(user, password)) onEntered?.();
  }

  return (
    <form onSubmit={submit} className="mt-5 grid gap-3 border-t border-rule pt-4">
      <label className="grid gap-1">
        Name
        <input
          className="field text-left!"
          value={user}
          autoComplete="username"
          onChange={(e) => setUser(e.target.value)}
        />
      </label>
      <label className="grid gap-1">
        Password
        <input
          className="field text-left!"
          type="password"
          value={password}
          autoComplete="current-password"
          onChange={(e) => setPassword(e.target.value)}
        />
      </label>
      {trouble && (
        <p role="alert" className="text-stop">
          {trouble}
        </p>
      )}
      <button type="submit" className="button first">
        Sign in
      </button>
    </form>
  );
}

function Ground({ within, children }: { within?: boolean; children: ReactNode }) {
  if (within) return children;
  return <main className="grid h-full place-items-center overflow-auto p-6">{children}</main>;
}
