import { lazy, Suspense, useEffect, useMemo } from "react";
import { BrowserRouter, Navigate, Route, Routes, useLocation, useParams } from "react-router";
import { History } from "./history/history";
import { HandPanel } from "./live/hand-panel";
import { Palette, useDeeds, useShortcuts } from "./shell/commands";
import { Troubles } from "./shell/conflict";
import { useSession } from "./shell/session";
import { useShell } from "./shell/shell-state";
import { SignIn } from "./shell/sign-in";
import { TopBar } from "./shell/top-bar";
import Shop from "./shop/shop";
import { useWork } from "./work/store";

const STAGES = {
  machine: lazy(() => import("./stages/machine/machine")),
  signals: lazy(() => import("./stages/signals/signals")),
  changer: lazy(() => import("./stages/changer/changer")),
  tools: lazy(() => import("./stages/tools/tools")),
  proof: lazy(() => import("./stages/proof/proof")),
};

const LOOK_AGAIN = 4000;
/** ms between two looks for what others have stored */

export function App() {
  const { session, trouble, load } = useSession();
  useEffect(() => void load(), [load]);
  if (!session) return <p className="grid h-full place-items-center text-ink-2">{trouble ?? "…"}</p>;
  if (!session.user) return <SignIn />;
  return (
    <BrowserRouter>
      <Frame />
    </BrowserRouter>
  );
}

function Frame() {
  const deeds = useDeeds();
  useShortcuts(deeds);
  const open = useShell((shell) => shell.open);
  const slug = useWork((work) => work.slug);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[56px_minmax(0,1fr)_auto]">
      <TopBar deeds={deeds} />
      <div className="min-h-0 min-w-0">
        <Routes>
          <Route path="/" element={<InShop />} />
          <Route path="/machines/:slug/:stage" element={<InMachine />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </div>
      <HandPanel />
      <Palette deeds={deeds} />
      {open === "history" && slug && <History onClose={() => useShell.getState().set({ open: null })} />}
      <Troubles />
    </div>
  );
}

function InShop() {
  useEffect(() => useWork.getState().close(), []);
  return <Shop />;
}

function InMachine() {
  const { slug = "", stage = "changer" } = useParams();
  const location = useLocation();
  const missing = useWork((work) => work.missing);
  const ready = useWork((work) => work.slug === slug && work.machine !== null);
  useEffect(() => void useWork.getState().open(slug), [slug]);
  useEffect(() => {
    const timer = setInterval(
      () => document.visibilityState === "visible" && void useWork.getState().refresh(),
      LOOK_AGAIN,
    );
    return () => clearInterval(timer);
  }, []);
  useEffect(() => {
    void useWork.getState().look(stage === "machine" || stage === "signals" ? stage : "exchange");
  }, [stage]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another stage, nothing plays on
  useEffect(() => useWork.getState().play(false), [location.pathname]);
  const Stage = useMemo(() => STAGES[stage as keyof typeof STAGES], [stage]);
  if (missing) return <p className="p-6 text-stop">{missing}</p>;
  if (!Stage) return <Navigate to={`/machines/${slug}/changer`} replace />;
  if (!ready) return <p className="p-6 text-ink-3">…</p>;
  return (
    <Suspense fallback={<p className="p-6 text-ink-3">…</p>}>
      <Stage />
    </Suspense>
  );
}
