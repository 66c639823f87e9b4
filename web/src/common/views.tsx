/** The views of a stage's middle: a row of names above the one that is shown. */
import type { ComponentType } from "react";

export type ViewMap = Record<string, readonly [string, ComponentType]>;

export function Views<Map extends ViewMap>({
  views,
  view,
  onView,
}: {
  views: Map;
  view: keyof Map & string;
  onView: (view: keyof Map & string) => void;
}) {
  const Shown = views[view]?.[1];
  return (
    <div
      className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[42px_minmax(0,1fr)]"
      data-alone={view === Object.keys(views)[0] ? undefined : view}
    >
      <div className="flex items-center overflow-x-auto border-b border-rule-2 bg-panel px-2">
        <fieldset className="segmented shrink-0" aria-label="View">
          {(Object.keys(views) as (keyof Map & string)[]).map((key) => (
            <button key={key} type="button" aria-pressed={view === key} onClick={() => onView(key)}>
              {views[key]?.[0]}
            </button>
          ))}
        </fieldset>
      </div>
      {Shown && <Shown />}
    </div>
  );
}
