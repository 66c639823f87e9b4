/** The styles of changer, a folder each: how its quantities are asked for and what is drawn of it. None is known by name here. */
import type { Changer, Style } from "../api/client";
import { useSetup } from "../work/document";
import type { StyleView } from "./kind";

const found = import.meta.glob<StyleView>("./*/index.tsx", { eager: true, import: "default" });

export const STYLES = Object.fromEntries(Object.values(found).map((view) => [view.style, view])) as Record<
  Style,
  StyleView
>;

/** The view of a changer's style. */
export function viewOf(changer: Changer | null | undefined): StyleView | undefined {
  return changer ? STYLES[changer.style] : undefined;
}

/** The view of the machine's changer. */
export function useStyle(): StyleView | undefined {
  return useSetup((setup) => viewOf(setup?.changer));
}
