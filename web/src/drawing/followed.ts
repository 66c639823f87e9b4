/** Which view of a sheet matters while the machine is moved by hand: with the hand panel open there is room for one. */
import { useEffect, useState } from "react";
import { useLive } from "../live/live";
import type { Shown } from "./zoom";

/** mm; less is no move */
const MOVED = 0.02;

type Position = Partial<Record<string, number>>;

/** The view in which a move is seen best: one down or up in an upright view, another in plan. */
export function viewOfMove(before: Position, now: Position, views: Pick<Shown, "name" | "axes">[]): string | null {
  const way = (axis: string) => Math.abs((now[axis] ?? 0) - (before[axis] ?? 0));
  const gone = Math.max(way("X"), way("Y"), way("Z"));
  if (gone < MOVED) return null;
  const seen = ({ axes }: Pick<Shown, "axes">) => axes.reduce((sum, axis) => sum + way(axis), 0);
  return [...views].sort((one, other) => seen(other) - seen(one))[0]?.name ?? null;
}

/** The view to show; null: all of them. */
export function useFollowed(follows: boolean, views: Shown[]): string | null {
  const [name, setName] = useState<string | null>(null);
  const axes = views.map((view) => `${view.name} ${view.axes.join(" ")}`).join();
  useEffect(() => {
    if (!follows) return;
    const known = axes.split(",").map((text) => {
      const [first = "", ...rest] = text.split(" ");
      return { name: first, axes: rest as [string, string] };
    });
    return useLive.subscribe((now, before) => {
      const moved = now.reported?.position && before.reported?.position;
      const found = moved && viewOfMove(before.reported?.position ?? {}, now.reported?.position ?? {}, known);
      if (found) setName(found);
    });
  }, [follows, axes]);
  return follows ? (views.find((view) => view.name === name)?.name ?? views[0]?.name ?? null) : null;
}
