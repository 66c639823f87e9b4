/** The tools that are measured, each by itself: no exchange is meant. */
import type { ReactNode } from "react";
import { toolName } from "./naming";

export function Apart({
  tools,
  size,
  cell,
}: {
  tools: number[];
  size: React.CSSProperties;
  cell: (tool: number) => ReactNode;
}) {
  if (!tools.length) return null;
  return (
    <section aria-label="Measuring" className="mt-3">
      <h3 className="text-[14px] text-ink-2">Measuring at the setter</h3>
      <table aria-label="Measuring of tools">
        <tbody className="flex flex-wrap" style={size}>
          {tools.map((tool) => (
            <tr key={tool} className="flex flex-col items-center text-[13px] text-ink-2">
              <th className="font-normal">{toolName(tool)}</th>
              {cell(tool)}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
