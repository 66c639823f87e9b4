import { Component, type ReactNode, Suspense, useEffect } from "react";
import { BrowserRouter, Link, Navigate, Route, Routes, useLocation, useParams } from "react-router";
import { pageMargins } from "./common/page-margins";
import { useShell } from "./common/shell-state";
import { History } from "./history/history";
import { Looking } from "./history/looking";
import { HandPanel } from "./live/hand-panel";
import { when } from "./quantity/when";
import { tellGone, useGone } from "./session/address";
import { useSession } from "./session/session";
import { Palette, useDeeds, useShortcuts } from "./shell/commands";
import { Troubles } from "./shell/conflict";
import { Following } from "./shell/following";
import { NotEntered } from "./shell/not-entered";
import { SignIn } from "./shell/sign-in";
import { TopBar } from "./shell/top-bar";
import { UndoList } from "./shell/undo-list";
import { Unsent } from "./shell/unsent";
import Shop from "./shop/shop";
import { STAGES } from "./stages";
import type { StageView } from "./stages/stage";
import { showStage } from "./work/choosing";
import { useDocument, useMachine, useSetup, useSlug } from "./work/document";
import { closeMachine, openMachine } from "./work/opening";
import { play } from "./work/playback";
import { refresh } from "./work/saving";

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
  const slug = useSlug();
  return (
    <div className="frame grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[56px_minmax(0,1fr)_auto]">
      <a href="#main" className="skip">
        Skip to the stage
      </a>
      <TopBar deeds={deeds} />
      <PrintTitle />
      <main id="main" tabIndex={-1} className="flex min-h-0 min-w-0 flex-col">
        <GoneNote />
        <Looking />
        <NotEntered />
        <div className="min-h-0 flex-1">
          <Routes>
            <Route path="/" element={<InShop />} />
            <Route path="/machines/:slug/:stage" element={<InMachine />} />
            <Route path="*" element={<Navigate to="/" replace />} />
          </Routes>
        </div>
      </main>
      <HandPanel />
      <Palette deeds={deeds} />
      {open === "history" && slug && <History onClose={() => useShell.getState().set({ open: null })} />}
      <Unsent />
      <UndoList />
      <Troubles />
    </div>
  );
}

/** What stands on every printed page: the machine, its revision, what is shown of it, the date and the page's number. */
function PrintTitle() {
  const machine = useMachine();
  const looking = useDocument((work) => work.looking);
  const name = useSetup((setup) => setup?.machine.name);
  const stage = useLocation().pathname.split("/")[3] ?? "the shop";
  useEffect(() => {
    const shown = looking ?? (machine && { ...machine, number: machine.revision });
    const revision = shown ? `, revision ${shown.number} by ${shown.author}, ${when(shown.changed)}` : "";
    const title = `${name ?? "Orthotrope"} · ${stage}${revision}`;
    const sheet = document.createElement("style");
    const stamp = () => {
      sheet.textContent = pageMargins(title, `printed ${when(new Date().toISOString())}`);
    };
    stamp();
    document.head.append(sheet);
    window.addEventListener("beforeprint", stamp);
    return () => {
      sheet.remove();
      window.removeEventListener("beforeprint", stamp);
    };
  }, [name, stage, machine, looking]);
  return null;
}

function InShop() {
  useEffect(() => closeMachine(), []);
  useEffect(() => {
    document.title = "The shop · Orthotrope";
  }, []);
  return <Shop />;
}

/** For those who hear the page. */
function Heading({ stage }: { stage: string }) {
  const name = useSetup((setup) => setup?.machine.name);
  return (
    <h1 className="sr-only">
      {stage} of {name}
    </h1>
  );
}

/** A stage that the address names and that there is none of. */
function NoStage({ slug, stage }: { slug: string; stage: string }) {
  useEffect(() => tellGone(`There is no stage “${stage}”; this is Changer.`), [stage]);
  return <Navigate to={`/machines/${slug}/changer`} replace />;
}

/** That a machine is put away, or what a link led to and is not there any more. */
function GoneNote() {
  const { gone } = useGone();
  const away = useMachine((machine) => machine?.put_away);
  if (away)
    return (
      <p role="status" className="border-b border-rule bg-warn-wash px-4 py-1.5 text-[14.5px]">
        This machine was put away on {when(away)}. It can be looked at; bring it back in the shop to change it.
      </p>
    );
  if (!gone.length) return null;
  return (
    <div
      role="status"
      className="no-print flex items-center gap-4 border-b border-rule bg-warn-wash px-4 py-1.5 text-[14.5px]"
    >
      <span className="flex-1">{gone.join(" ")}</span>
      <button type="button" className="link min-h-10" onClick={() => useGone.setState({ gone: [] })}>
        Dismiss
      </button>
    </div>
  );
}

function InMachine() {
  const { slug = "", stage = "changer" } = useParams();
  const location = useLocation();
  const missing = useDocument((work) => work.missing);
  const ready = useDocument((work) => work.slug === slug && work.machine !== null && work.answer !== null);
  const trouble = useDocument((work) => work.trouble);
  useEffect(() => void openMachine(slug), [slug]);
  useEffect(() => {
    const timer = setInterval(() => document.visibilityState === "visible" && void refresh(), LOOK_AGAIN);
    return () => clearInterval(timer);
  }, []);
  useEffect(() => {
    void showStage(STAGES[stage]?.answer ?? "exchange");
  }, [stage]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another stage, nothing plays on
  useEffect(() => play(false), [location.pathname]);
  const Stage = STAGES[stage]?.Page;
  if (missing)
    return (
      <div className="p-6">
        <p className="whitespace-pre-line text-stop">{missing}</p>
        <p className="mt-2 flex gap-4">
          <Link className="link" to="/">
            To the shop
          </Link>
          <a className="link" href={`/api/machines/${slug}/file`}>
            Download its Setup file
          </a>
        </p>
      </div>
    );
  if (!Stage) return <NoStage slug={slug} stage={stage} />;
  if (!ready) return <p className={`p-6 ${trouble ? "text-stop" : "text-ink-3"}`}>{trouble ?? "…"}</p>;
  return (
    <StageBoundary key={stage}>
      <Heading stage={stage} />
      <Following key={`${slug} ${stage}`} stage={STAGES[stage] as StageView} />
      <Suspense fallback={<p className="p-6 text-ink-3">…</p>}>
        <Stage />
      </Suspense>
    </StageBoundary>
  );
}

/** A stage whose script does not come, or that fails, says so; nothing that was typed is lost by trying again. */
class StageBoundary extends Component<{ children: ReactNode }, { failed: Error | null; says: string }> {
  override state = { failed: null as Error | null, says: "" };

  static getDerivedStateFromError(failed: Error) {
    return { failed };
  }

  /** A script that did not come is kept as missing for as long as the page lives: it is loaded anew, once the server answers. */
  again = async () => {
    const health = await fetch("/health").catch(() => null);
    if (health?.ok) location.reload();
    else this.setState({ says: "The server does not answer yet." });
  };

  override render() {
    const { failed, says } = this.state;
    if (!failed) return this.props.children;
    return (
      <div className="p-6" role="alert">
        <h2 className="font-semibold">This stage could not be shown</h2>
        <p className="mt-1 text-ink-2">
          {/import|fetch|load/i.test(failed.message)
            ? "Its script did not come from the server."
            : `Something went wrong in it: ${failed.message}`}{" "}
          What you entered is kept.
        </p>
        <button type="button" className="button first mt-3" onClick={() => void this.again()}>
          Try again
        </button>
        {says && <p className="mt-2 text-stop">{says}</p>}
      </div>
    );
  }
}
