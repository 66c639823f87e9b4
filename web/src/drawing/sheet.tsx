/** A sheet that can be brought nearer, moved and measured: wheel or pinch at the pointer, drag, double click, keys. */
import { Maximize, Ruler, ZoomIn, ZoomOut } from "lucide-react";
import { type PointerEvent, type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import { useShell } from "../common/shell-state";
import { useSize } from "../common/use-size";
import { useUnit } from "../fields/rows";
import { fixed, shown, unitOf } from "../quantity/format";
import { useFollowed } from "./followed";
import { hideCut, makeWay } from "./labels";
import { statedScale, type View } from "./projection";
import { closer, filledBy, moved, placed, type Region, type Shown, snapped, WHOLE } from "./zoom";
import { useSheet } from "./zoom-store";

interface Props {
  label: string;
  title: string;
  width: number;
  height: number;
  /** pixels of one millimetre where the whole sheet is shown */
  scale: number;
  views?: Shown[];
  /** how many times larger it is drawn than it is shown, for one view to fill it with its names in place */
  larger?: number;
  children: ReactNode;
}

const STEP = 1.35;
/** px; a pointer that has moved less than this has clicked */
const STILL = 4;
/** px; an edge that is so near to a click is meant */
const NEAR = 9;
const NONE: Shown[] = [];
const CENTRE = [0.5, 0.5] as const;

type Pair = [number, number];

export function Sheet({ label, title, width, height, scale, views = NONE, larger = 1, children }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [region, setRegion] = useState(WHOLE);
  const zoom = (by: number, at: readonly [number, number] = CENTRE) => setRegion((now) => closer(now, by, at));
  const showAll = () => setRegion(WHOLE);
  useWheel(svg, setRegion);
  useFilled(views, width, height, larger, setRegion);
  useLayoutEffect(() => {
    if (svg.current && region.size === 1) makeWay(svg.current);
    if (svg.current) hideCut(svg.current, region.size < 1);
  });
  const { measuring, measured, measure, point } = useMeasuring(svg, views, region.size * larger);
  useSheet({ zoom, fit: showAll, measure });
  const hands = useHands(svg, region, setRegion);
  const { x, y, size } = region;
  return (
    <div className="relative h-full">
      <svg
        ref={svg}
        width={width / larger}
        height={height / larger}
        viewBox={`${x * width} ${y * height} ${size * width} ${size * height}`}
        role="group"
        aria-label={label}
        className={`sheet ${size < 1 ? "zoomed" : ""} ${measuring ? "measuring" : ""}`}
        style={{ "--zoom": size * larger } as React.CSSProperties}
        onDoubleClick={(event) => !measuring && event.target === svg.current && showAll()}
        onClickCapture={point}
        onMouseDown={(event) => measuring && event.preventDefault()}
        {...hands}
      >
        <title>{title}</title>
        {children}
        {measured && <MeasuredLine {...measured} views={views} />}
      </svg>
      {measured && (
        <div className="absolute top-1 right-1 bg-sheet">
          <Distance {...measured} />
        </div>
      )}
      <div className="no-print absolute right-1 bottom-0 flex items-center bg-sheet">
        <span className="px-2 text-[13.5px] text-ink-2 tabular-nums" data-scale>
          {statedScale(scale / size / larger)}
        </span>
        {views.length > 0 && <MeasureButton pressed={measuring} onPress={measure} />}
        {size < 1 && (
          <Nearer
            views={views}
            onView={(view) => setRegion(filledBy(view, width, height))}
            onFit={showAll}
            onOut={() => zoom(1 / STEP)}
          />
        )}
        <Tool label="Zoom in" keys="+" onClick={() => zoom(STEP)} icon={<ZoomIn size={16} />} />
      </div>
    </div>
  );
}

/** Measuring on the sheet: two edges that are clicked; Escape ends it. `scale`: drawn units for each pixel. */
function useMeasuring(svg: React.RefObject<SVGSVGElement | null>, views: Shown[], scale: number) {
  const [measuring, setMeasuring] = useState(false);
  const [measured, setMeasured] = useState<Measured | null>(null);
  const measure = () => {
    setMeasuring(views.length > 0 && !measuring);
    setMeasured(null);
  };
  const point = (event: React.MouseEvent) => {
    const found = measuring && svg.current && pointed(svg.current, event, views, scale);
    if (!found) return;
    event.stopPropagation();
    setMeasured((now) => (now && !now.to && now.shown.name === found.shown.name ? { ...now, to: found.at } : found));
  };
  useEffect(() => {
    if (!measuring) return;
    const leave = (event: KeyboardEvent) => {
      if (event.key !== "Escape") return;
      setMeasuring(false);
      setMeasured(null);
    };
    window.addEventListener("keydown", leave);
    return () => window.removeEventListener("keydown", leave);
  }, [measuring]);
  return { measuring, measured, measure, point };
}

function MeasureButton({ pressed, onPress }: { pressed: boolean; onPress: () => void }) {
  return (
    <button
      type="button"
      className="tool"
      aria-pressed={pressed}
      title="Measure: click two edges (M)"
      aria-label="Measure on the sheet"
      onClick={onPress}
    >
      <Ruler size={16} />
    </button>
  );
}

interface NearerProps {
  views: Shown[];
  onView: (view: View) => void;
  onFit: () => void;
  onOut: () => void;
}

/** What a sheet that is brought nearer offers: one of its views, all of it, further away. */
function Nearer({ views, onView, onFit, onOut }: NearerProps) {
  return (
    <>
      {views.map(({ name, view }) => (
        <button
          key={name}
          type="button"
          className="tool px-1.5 text-[13.5px]"
          title={`The ${name.toLowerCase()} fills the sheet`}
          onClick={() => onView(view)}
        >
          {name}
        </button>
      ))}
      <Tool label="Fit" keys="0" onClick={onFit} icon={<Maximize size={16} />} />
      <Tool label="Zoom out" keys="−" onClick={onOut} icon={<ZoomOut size={16} />} />
    </>
  );
}

/** px; a lower sheet has no room for three views while the hand panel is open */
const LOW = 430;

/** The size that a sheet is drawn in: a low one, of which one view is shown, `larger` than its element, so that the view has its names in
 * place. */
export function useDrawn<Element extends HTMLElement>() {
  const { element, width, height } = useSize<Element>();
  const larger = useShell((shell) => shell.panel) && height < LOW ? LARGER : 1;
  return { element, width: width * larger, height: height * larger, larger };
}

const LARGER = 1.7;

/** px that dimensions take beside a view, and below it; marks stand out above */
const BESIDE = 120;
const BELOW = 68;
const ABOVE = 16;

/** A view with its dimensions; in the middle of the sheet where that has the room. */
function withDimensions({ left, top, width, height }: View, wide: number, high: number): View {
  const tall = height + ABOVE + BELOW;
  const both = (width + 2 * BESIDE) / wide <= tall / high;
  return { left: left - BESIDE, top: top - ABOVE, width: width + (both ? 2 : 1) * BESIDE, height: tall };
}

/** With the hand panel open, the view that the machine's move is seen in fills the sheet; by hand any other is shown as well. */
function useFilled(views: Shown[], width: number, height: number, larger: number, set: (region: Region) => void) {
  const panel = useShell((shell) => shell.panel);
  const name = useFollowed(panel && height / larger < LOW, views);
  const latest = useRef(views);
  latest.current = views;
  const was = useRef<string | null>(null);
  useEffect(() => {
    const found = latest.current.find((view) => view.name === name);
    if (found) set(filledBy(withDimensions(found.view, width, height), width, height));
    else if (was.current) set(WHOLE);
    was.current = name;
  }, [name, width, height, set]);
}

function Tool({ label, keys, onClick, icon }: { label: string; keys: string; onClick: () => void; icon: ReactNode }) {
  return (
    <button type="button" className="tool" title={`${label} (${keys})`} aria-label={label} onClick={onClick}>
      {icon}
    </button>
  );
}

/** Where a pointer is on the sheet, in parts of what is shown. */
function seenAt(svg: SVGSVGElement, event: { clientX: number; clientY: number }): Pair {
  const box = svg.getBoundingClientRect();
  return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
}

const onSheet = (region: Region, [x, y]: Pair): Pair => [region.x + x * region.size, region.y + y * region.size];

/** The wheel, and two fingers on a pad: a listener of its own, since the page must not scroll. */
function useWheel(svg: React.RefObject<SVGSVGElement | null>, set: (next: (now: Region) => Region) => void) {
  useEffect(() => {
    const node = svg.current;
    if (!node) return;
    const turned = (event: WheelEvent) => {
      event.preventDefault();
      const at = seenAt(node, event);
      const by = Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0018));
      set((now) => closer(now, by, onSheet(now, at)));
    };
    node.addEventListener("wheel", turned, { passive: false });
    return () => node.removeEventListener("wheel", turned);
  }, [svg, set]);
}

/** Dragging moves the sheet; two fingers bring it nearer. A click goes to what is drawn. */
function useHands(
  svg: React.RefObject<SVGSVGElement | null>,
  region: Region,
  set: (next: (now: Region) => Region) => void,
) {
  const down = useRef(new Map<number, Pair>());
  const gone = useRef(0);
  const lost = (event: PointerEvent) => void down.current.delete(event.pointerId);
  return {
    onPointerDown(event: PointerEvent) {
      if (!svg.current || event.button !== 0) return;
      if (down.current.size === 0) gone.current = 0;
      down.current.set(event.pointerId, seenAt(svg.current, event));
    },
    onPointerMove(event: PointerEvent) {
      const before = down.current.get(event.pointerId);
      if (!svg.current || !before) return;
      const now = seenAt(svg.current, event);
      const other = [...down.current].find(([id]) => id !== event.pointerId)?.[1];
      down.current.set(event.pointerId, now);
      const { width, height } = svg.current.getBoundingClientRect();
      gone.current += Math.hypot((now[0] - before[0]) * width, (now[1] - before[1]) * height);
      if (gone.current < STILL || (!other && region.size === 1)) return;
      svg.current.setPointerCapture(event.pointerId);
      if (!other) set((r) => moved(r, (before[0] - now[0]) * r.size, (before[1] - now[1]) * r.size));
      else {
        const apart = (one: Pair) => Math.hypot((one[0] - other[0]) * width, (one[1] - other[1]) * height);
        set((r) => closer(r, apart(now) / Math.max(1, apart(before)), onSheet(r, other)));
      }
    },
    onPointerUp: lost,
    onPointerCancel: lost,
    onLostPointerCapture: lost,
  };
}

interface Measured {
  shown: Shown;
  /** machine coordinates of the view's two axes */
  at: Pair;
  to?: Pair;
}

/** What is clicked, on the nearest edge, axis or height of what is drawn there. */
function pointed(svg: SVGSVGElement, event: React.MouseEvent, views: Shown[], size: number): Measured | null {
  const matrix = svg.getScreenCTM()?.inverse();
  if (!matrix) return null;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
  let axis: Pair | null = null;
  const xs: number[] = [];
  const ys: number[] = [];
  const number = (node: Element, name: string) => Number(node.getAttribute(name));
  for (const node of svg.querySelectorAll("rect, circle")) {
    const round = node.tagName === "circle";
    const [left, top] = round ? [number(node, "cx"), number(node, "cy")] : [number(node, "x"), number(node, "y")];
    const [wide, high] = round ? [0, 0] : [number(node, "width"), number(node, "height")];
    const fill = node.getAttribute("fill");
    if (fill === "transparent" || (node.getAttribute("class") ?? "") === "ground") continue;
    const reach = round ? number(node, "r") : 0;
    const far = NEAR * size + reach;
    if (at.x < left - far || at.x > left + wide + far || at.y < top - far || at.y > top + high + far) continue;
    if (round && Math.hypot(at.x - left, at.y - top) < NEAR * size) axis = [left, top]; // an axis is meant, not the rim of a bore
    xs.push(left, left + wide / 2, left + wide, left - reach, left + reach);
    ys.push(top, top + high / 2, top + high, top - reach, top + reach);
  }
  const [x, y] = axis ?? [snapped(at.x, xs, NEAR * size), snapped(at.y, ys, NEAR * size)];
  const found = placed(views, x, y);
  return found && { shown: found.shown, at: found.at };
}

/** Drawn anew from the machine coordinates, so that it stays right when the sheet is drawn otherwise. */
function MeasuredLine({ shown: was, at, to, views }: Measured & { views: Shown[] }) {
  const view = views.find((entry) => entry.name === was.name) ?? was;
  const [x1, y1] = [view.across(at[0]), view.up(at[1])];
  const [x2, y2] = to ? [view.across(to[0]), view.up(to[1])] : [x1, y1];
  return (
    <g pointerEvents="none" stroke="var(--now)" data-measured>
      {to && <path d={`M${x1} ${y1}L${x2} ${y2}`} strokeWidth="2" fill="none" />}
      {to && <path d={`M${x1} ${y1}H${x2}V${y2}`} strokeWidth="1" strokeDasharray="4 3" fill="none" />}
      {[
        [x1, y1],
        [x2, y2],
      ].map(([x, y], index) => (
        <path
          // biome-ignore lint/suspicious/noArrayIndexKey: one end and the other
          key={index}
          d={`M${x} ${y}m-7 0h14m-7 -7v14`}
          strokeWidth="1.6"
          fill="none"
        />
      ))}
    </g>
  );
}

function Distance({ shown: view, at, to }: Measured) {
  const unit = useUnit();
  const mm = (value: number) => shown(Math.abs(value), "length", unit);
  if (!to) return <span className="px-2 text-[14px] text-ink-2">Now the second edge, in the same view.</span>;
  const [dx, dy] = [to[0] - at[0], to[1] - at[1]];
  return (
    <output className="px-2 text-[14.5px] tabular-nums" style={{ color: "var(--now)" }} data-distance>
      {view.axes[0]} {mm(dx)} · {view.axes[1]} {mm(dy)} · <b className="font-semibold">{mm(Math.hypot(dx, dy))}</b>{" "}
      {unitOf("length", unit)} · {fixed((Math.atan2(dy, dx) * 180) / Math.PI, 2)}°
    </output>
  );
}
