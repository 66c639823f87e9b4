/** The probe to scale, from the front: tip, stem and what holds them, with the dimensions that can be edited; and where the tip
 * stands off the axis, magnified. */
import type { Probe, Tool } from "../../api/client";
import { useSize } from "../../common/use-size";
import { AcrossDimension, UprightDimension } from "../../drawing/dimension";
import { statedScale } from "../../drawing/projection";
import { useUnit } from "../../fields/rows";
import { shown } from "../../quantity/format";
import { usePreview, useSetup } from "../../work/document";
import { viewOf } from "./kinds";
import { useProbe } from "./which";

export function ProbeSheet() {
  const { element, width, height } = useSize<HTMLDivElement>();
  const { probe, index } = useProbe();
  const tools = useSetup((setup) => setup?.tools) ?? [];
  const at = tools.findIndex((entry) => entry.number === probe?.tool);
  const tool = tools[at];
  return (
    <div ref={element} data-drawing className="h-full bg-sheet">
      {probe && tool && width > 0 && (
        <Drawing probe={probe} index={index} tool={tool} at={at} width={width} height={height} />
      )}
    </div>
  );
}

interface DrawingProps {
  probe: Probe;
  index: number;
  tool: Tool;
  at: number;
  width: number;
  height: number;
}

function Drawing({ probe, index, tool, at, width, height }: DrawingProps) {
  const unit = useUnit();
  const scene = usePreview((answer) => answer?.scene);
  const mm = (value: number) => shown(value, "length", unit);
  const parts = scene?.tools.find((entry) => entry.number === tool.number)?.parts ?? [];
  const holder = parts.filter((part) => !part.name.startsWith("T"));
  const widest = Math.max(tool.diameter, ...holder.map((part) => 2 * part.radius), 20);
  const scale = Math.min((height - 130) / (tool.length + 20), (width * 0.34) / widest);
  const x = width * 0.3;
  const top = 46;
  const z = (below: number) => top + below * scale;
  const ball = (tool.diameter / 2) * scale;
  const tip = z(tool.length);
  const stem = "stem_diameter" in probe ? probe.stem_diameter : tool.diameter;
  const body = tool.length - tool.stick_out;
  const view = viewOf(probe);
  const side = x + Math.max(60, (widest / 2) * scale + 8);
  return (
    <svg width={width} height={height} role="group" aria-label={`${probe.name} from the front`}>
      <title>{`${probe.name}, T${tool.number}`}</title>
      {holder.map((part) => (
        <rect
          key={`${part.name} ${part.low}`}
          x={x - part.radius * scale}
          y={z(-part.high)}
          width={2 * part.radius * scale}
          height={(part.high - part.low) * scale}
          fill="var(--steel)"
          className="line-outline"
        />
      ))}
      <rect
        x={x - (stem / 2) * scale}
        y={z(body)}
        width={stem * scale}
        height={(tool.stick_out - (view?.ball ? tool.diameter / 2 : 0)) * scale}
        fill="var(--tool)"
        className="line-outline"
      />
      {view?.ball && <circle cx={x} cy={tip - ball} r={ball} fill="var(--tool)" className="line-outline" />}
      <path d={`M${x} ${top - 24}V${tip + 24}`} className="line-centre" />
      <path d={`M${x - side + x} ${top}H${side}`} className="line-level" />
      <text x={side + 6} y={top + 5} className="caption">
        gauge line
      </text>
      <UprightDimension
        y1={top}
        y2={tip}
        x={x - (widest / 2) * scale - 46}
        from={x - ball}
        text={mm(tool.length)}
        pointer={`/tools/${at}/length`}
        label="length"
      />
      <UprightDimension
        y1={z(body)}
        y2={tip}
        x={x + (widest / 2) * scale + 34}
        from={x + ball}
        text={mm(tool.stick_out)}
        pointer={`/tools/${at}/stick_out`}
        label="stick-out"
      />
      <AcrossDimension
        x1={x - ball}
        x2={x + ball}
        y={tip + 26}
        from={tip - ball}
        text={mm(tool.diameter)}
        pointer={`/tools/${at}/diameter`}
        label="tip, nominal"
      />
      <Off probe={probe} index={index} x={width * 0.74} y={height * 0.36} r={Math.min(width * 0.17, height * 0.26)} />
      <text x={width - 12} y={height - 12} textAnchor="end" className="caption">
        {statedScale(scale)}
      </text>
    </svg>
  );
}

/** From above: the spindle's axis, and where the tip stands off it. */
function Off({ probe, index, x, y, r }: { probe: Probe; index: number; x: number; y: number; r: number }) {
  const unit = useUnit();
  const mm = (value: number) => `${value < 0 ? "−" : ""}${shown(Math.abs(value), "length", unit)}`;
  const off = Math.hypot(probe.off_x, probe.off_y);
  const magnified = off > 0 ? (r * 0.6) / off : 0;
  const [dx, dy] = [probe.off_x * magnified, -probe.off_y * magnified];
  if (!viewOf(probe)?.qualified) return null;
  return (
    <g data-off-centre>
      <circle cx={x} cy={y} r={r} fill="none" className="line-thin" />
      <path d={`M${x - r - 12} ${y}H${x + r + 12}M${x} ${y - r - 12}V${y + r + 12}`} className="line-centre" />
      {off > 0 && <path d={`M${x} ${y}l${dx} ${dy}`} className="line-now" />}
      <circle cx={x + dx} cy={y + dy} r="5" fill="var(--now)" />
      <text x={x} y={y + r + 34} textAnchor="middle" style={{ fontSize: 15 }}>
        tip off the axis: X {mm(probe.off_x)} Y {mm(probe.off_y)}
      </text>
      <text x={x} y={y + r + 54} textAnchor="middle" className="caption">
        from above{off > 0 ? ", magnified" : ""};{" "}
        {probe.angle_deg === null ? "angle not set" : `at ${probe.angle_deg}°`}
      </text>
      <text x={x} y={y - r - 22} textAnchor="middle" style={{ fontSize: 15 }} data-effective={index}>
        effective diameter {probe.effective_diameter === null ? "not known yet" : mm(probe.effective_diameter)}
        {probe.effective_diameter !== null && probe.effective_uncertainty > 0
          ? ` ± ${mm(probe.effective_uncertainty)}`
          : ""}
      </text>
    </g>
  );
}
