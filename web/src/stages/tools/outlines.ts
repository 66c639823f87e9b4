/** The outlines of the tools that are drawn, as the server works them out. */
import { client, type Tool } from "../../api/client";
import { useAnswer } from "../../api/query";
import { useSlug } from "../../work/document";

export type Points = number[][];

export function useOutlines(tools: Tool[]): Map<number, Points> {
  const slug = useSlug();
  const numbers = tools.map((tool) => tool.number).join();
  const { data } = useAnswer(
    tools.length ? ["outlines", slug, numbers, JSON.stringify(tools)] : null,
    () => client.POST("/api/tools/outlines", { body: { tools } }),
    { keep: 3 },
  );
  return new Map(data?.map((entry) => [entry.tool, entry.points]));
}

/** The closed path of an outline: `x` of the axis and `gauge` of the gauge line on the sheet, `scale` px a mm. */
export function pathOf(points: Points, x: number, gauge: number, scale: number): string {
  const at = points.map(([right = 0, down = 0]) => `${x + right * scale} ${gauge + down * scale}`);
  return at.length ? `M${at.join("L")}Z` : "";
}
