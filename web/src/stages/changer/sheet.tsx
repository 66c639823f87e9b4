/** The sheet of the changer: plan, front and side view to scale, sharing their axes, with dimensions that can be edited. */
import { useMemo } from "react";
import type { Derived, Scene, Setup, Trace } from "../../api/client";
import { viewOf } from "../../changers";
import {
  PlanBodies,
  type PocketNow,
  SpindleToolName,
  Stored,
  UprightBodies,
  UprightSpindle,
} from "../../drawing/bodies";
import { ClearanceMark } from "../../drawing/clearance";
import { type Projection, project, shownViews, viewsOf } from "../../drawing/projection";
import { Sheet, useDrawn } from "../../drawing/sheet";
import { useUnit } from "../../fields/rows";
import { shown } from "../../quantity/format";
import { carriedAt, heldAt, type Place, placeAt } from "../../trace/evaluate";
import { usePreview, useSetup, useTrace } from "../../work/document";
import { usePlayback } from "../../work/playback";
import { useSelection } from "../../work/selection";

import { boundsOf, isIn, within } from "./bounds";
import { HeightDimensions, Ladder } from "./dimensions";
import { KeyPlan } from "./key-plan";
import { handsAt, pocketsAt } from "./moment";
import { PlanDisc, PlanHands, UprightDisc, UprightHands } from "./moving";
import { PlanPockets, PlanSpindle } from "./pockets";

/** Where the drawn machine stands: at the moment of the line of time, or parked over the middle of the rack. */
function useNow(): { at: Place | null; tool: number; held: number | null } {
  const trace = useTrace();
  const time = usePlayback((work) => work.time);
  if (!trace) return { at: null, tool: 0, held: 0 };
  return { at: placeAt(trace, time), tool: carriedAt(trace, time), held: heldAt(trace, time) };
}

export function ChangerSheet() {
  const setup = useSetup();
  const derived = usePreview((answer) => answer?.derived);
  const whole = usePreview((answer) => answer?.scene);
  const { element, ...drawn } = useDrawn<HTMLDivElement>();
  return (
    <div ref={element} data-drawing className="h-full bg-sheet">
      {setup?.changer && derived && whole && drawn.width > 0 && (
        <Drawing setup={setup} derived={derived} whole={whole} {...drawn} />
      )}
    </div>
  );
}

interface DrawingProps {
  setup: Setup;
  derived: Derived;
  whole: Scene;
  width: number;
  height: number;
  larger: number;
}

const FOOT = 38;
const NONE: never[] = [];

function Drawing({ setup, derived, whole, width, height, larger }: DrawingProps) {
  const { at, tool } = useNow();
  const trace = useTrace() ?? null;
  const time = usePlayback((work) => work.time);
  const bounds = useMemo(() => boundsOf(setup, derived, whole), [setup, derived, whole]);
  const scene = useMemo(() => within(whole, bounds), [whole, bounds]);
  const to = useMemo(() => {
    const margin = { left: 150, top: 28, right: 16, bottom: 10 };
    return project(bounds, { width, height: height - FOOT, margin, between: 78, beside: 104 });
  }, [bounds, width, height]);
  const passed = usePreview((answer) => answer?.exchange?.passed) ?? NONE;
  const { changer } = setup;
  const view = viewOf(changer);
  const moment: Moment = { scene, trace, time, to, at, tool, pockets: pocketsAt(scene, trace, time) };
  return (
    <Sheet
      label="Drawing of the changer"
      title="Plan, front and side view of the changer"
      width={width}
      height={height}
      scale={to.scale}
      larger={larger}
      views={shownViews(to)}
    >
      <Captions to={to} />
      <Plan setup={setup} {...moment} />
      {changer && view && <view.Dimensions changer={changer} derived={derived} to={to} />}
      <Upright view="front" {...moment} />
      <Upright view="side" {...moment} />
      <Ladder setup={setup} derived={derived} to={to} at={at} />
      <UprightNow view="front" {...moment} />
      <UprightNow view="side" {...moment} />
      {at && <ContactMark to={to} />}
      {at && <ClearanceMark passed={passed} {...viewsOf(to)} />}
      <HeightDimensions setup={setup} derived={derived} to={to} />
      <KeyPlan
        setup={setup}
        scene={whole}
        at={at}
        region={to.bounds}
        x={to.side.left}
        y={to.plan.top - 4}
        width={width - to.side.left - 14}
        height={Math.max(60, to.front.top - to.plan.top - 44)}
      />
      <Foot scene={scene} at={at} width={width} bottom={height - FOOT} />
    </Sheet>
  );
}

/** What is drawn of the machine, and when. */
interface Moment {
  scene: Scene;
  trace: Trace | null;
  time: number;
  to: Projection;
  at: Place | null;
  tool: number;
  pockets: PocketNow[];
}

function Plan({ setup, scene, trace, time, to, at, pockets }: Moment & { setup: Setup }) {
  const { changer } = setup;
  const view = viewOf(changer);
  return (
    <>
      <Clip view="plan" to={to} />
      <g clipPath="url(#plan-clip)">
        <TravelEnds setup={setup} to={to} />
        <PlanBodies scene={scene} to={to} />
        <PlanDisc scene={scene} trace={trace} time={time} to={to} />
      </g>
      <PlanPockets scene={scene} pockets={pockets} to={to} />
      <PlanHands hands={handsAt(scene, trace, time)} scene={scene} to={to} />
      {changer && view?.Mark && <view.Mark changer={changer} to={to} />}
      {at && isIn(to.bounds, at) && <PlanSpindle at={at} scene={scene} to={to} />}
    </>
  );
}

function Clip({ view, to }: { view: "plan" | "front" | "side"; to: Projection }) {
  const { left, top, width, height } = to[view];
  return (
    <clipPath id={`${view}-clip`}>
      <rect x={left} y={top} width={width} height={height} />
    </clipPath>
  );
}

function Upright({ view, scene, trace, time, to, pockets }: Moment & { view: "front" | "side" }) {
  return (
    <>
      <Clip view={view} to={to} />
      <g clipPath={`url(#${view}-clip)`}>
        <UprightBodies scene={scene} to={to} view={view} />
        <UprightDisc scene={scene} trace={trace} time={time} to={to} view={view} />
        <Stored scene={scene} pockets={pockets} to={to} view={view} />
        <UprightHands hands={handsAt(scene, trace, time)} scene={scene} to={to} view={view} />
      </g>
    </>
  );
}

/** The spindle; while an arm has the tools it carries none. */
function UprightNow({ view, scene, trace, time, to, at, tool }: Moment & { view: "front" | "side" }) {
  if (!at) return null;
  const carried = handsAt(scene, trace, time).length ? 0 : tool;
  return (
    <>
      <g clipPath={`url(#${view}-clip)`}>
        <UprightSpindle scene={scene} at={at} tool={carried} to={to} view={view} />
      </g>
      {carried > 0 && <SpindleToolName at={at} tool={carried} to={to} view={view} />}
    </>
  );
}

interface FootProps {
  scene: Scene;
  at: Place | null;
  width: number;
  bottom: number;
}

function Foot({ scene, at, width, bottom }: FootProps) {
  const unit = useUnit();
  const mm = (value: number) => shown(value, "length", unit);
  const wanted = useSelection((work) => work.pair?.to);
  const target = scene.magazine?.pockets.find((entry) => entry.tool === wanted) ?? scene.magazine?.pockets[0];
  const narrow = width < 640;
  return (
    <g>
      <path d={`M14 ${bottom + 4}H${width - 14}`} stroke="var(--rule)" />
      {target && (!narrow || !at) && (
        <text x="20" y={bottom + 26} style={{ fontSize: 15 }}>
          <tspan fontWeight="600">Pocket {target.pocket}</tspan>
          <tspan dx="12">{scene.magazine?.shapes.disc ? "on the disc" : `X ${mm(target.x)} Y ${mm(target.y)}`}</tspan>
        </text>
      )}
      {at && (
        <text
          x={narrow ? 20 : Math.max(270, width * 0.38)}
          y={bottom + 26}
          style={{ fontSize: 15, fill: "var(--now)" }}
          data-now
        >
          spindle now X {mm(at[0])} Y {mm(at[1])} Z {mm(at[2])}
        </text>
      )}
    </g>
  );
}

function Captions({ to }: { to: Projection }) {
  return (
    <g className="caption">
      <text x={18} y={20} className="caption">
        Plan
      </text>
      <text data-soft x={18} y={to.front.top - 10} className="caption">
        Front
      </text>
      <text x={to.side.left} y={to.front.top - 10} className="caption">
        Side
      </text>
      <text x={to.side.left} y={20} className="caption">
        Where
      </text>
    </g>
  );
}

function TravelEnds({ setup, to }: { setup: Setup; to: Projection }) {
  const { X, Y } = setup.machine.axes;
  const { plan } = to;
  const inside = (y: number) => y > plan.top && y < plan.top + plan.height;
  const y = to.atY(Y.greatest);
  return (
    <g>
      <rect
        x={to.atX(X.least)}
        y={y}
        width={(X.greatest - X.least) * to.scale}
        height={(Y.greatest - Y.least) * to.scale}
        fill="none"
        className="line-hidden"
      />
      {inside(y) && setup.changer && "rack" in setup.changer && (
        <text data-soft x={plan.left + plan.width - 4} y={y - 4} textAnchor="end" className="caption">
          travel ends
        </text>
      )}
    </g>
  );
}

/** The place of the chosen finding, in the front view. */
function ContactMark({ to }: { to: Projection }) {
  const chosen = usePlayback((work) => work.chosen);
  if (!chosen?.position || chosen.severity !== "stop") return null;
  const [x, , z] = chosen.position as Place;
  return (
    <circle
      cx={to.atX(x)}
      cy={to.atZ(z)}
      r="14"
      fill="none"
      stroke="var(--stop)"
      strokeWidth="2.4"
      pointerEvents="none"
    />
  );
}
