/** The sheet that is on the screen, for keys and commands. */
import { useEffect, useRef } from "react";

export interface SheetControls {
  zoom: (by: number) => void;
  fit: () => void;
  measure: () => void;
}

let current: SheetControls | null = null;

/** The controls of the sheet on the screen; null: there is none. */
export const sheetNow = () => current;

/** Make a sheet the one that keys and commands go to, as long as it is shown. */
export function useSheet(controls: SheetControls) {
  const latest = useRef(controls);
  latest.current = controls;
  useEffect(() => {
    const mine: SheetControls = {
      zoom: (by) => latest.current.zoom(by),
      fit: () => latest.current.fit(),
      measure: () => latest.current.measure(),
    };
    current = mine;
    return () => {
      if (current === mine) current = null;
    };
  }, []);
}
