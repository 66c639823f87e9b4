/** The dimensions of a disc in the plan: the exchange place, the radius, and how far what brings its tools goes. */
import type { Changer } from "../api/client";
import { Figure } from "../drawing/dimension";
import type { Projection } from "../drawing/projection";
import { useUnit } from "../fields/rows";
import { shown } from "../quantity/format";

export type DiscChanger = Extract<Changer, { exchange: unknown }>;

/** A style's own figure: its text goes before its value, mm. */
export interface DiscFigure {
  label: string;
  text: string;
  value: number;
  pointer: string;
}

export function DiscDimensions({ changer, own, to }: { changer: DiscChanger; own: DiscFigure; to: Projection }) {
  const unit = useUnit();
  const [x, y] = [to.atX(changer.exchange.x), to.atY(changer.exchange.y)];
  const below = to.plan.top + to.plan.height;
  const mm = (value: number) => shown(value, "length", unit, true);
  const place = [
    { label: "Exchange place X", text: `X ${mm(changer.exchange.x)}`, pointer: "/changer/exchange/x" },
    { label: "Exchange place Y", text: `Y ${mm(changer.exchange.y)}`, pointer: "/changer/exchange/y" },
  ];
  const figures = [
    { label: "Radius", text: `radius ${mm(changer.disc.radius)}`, pointer: "/changer/disc/radius" },
    { ...own, text: `${own.text} ${mm(own.value)}` },
  ];
  return (
    <g>
      <path d={`M${x} ${y}L${x + 20} ${to.plan.top + 24}`} className="line-dimension" />
      {place.map((figure, index) => (
        <Figure key={figure.label} x={x + 24} y={to.plan.top + 14 + index * 24} anchor="start" {...figure} />
      ))}
      {figures.map(({ label, text, pointer }, index) => (
        <Figure
          key={label}
          x={to.plan.left - 8}
          y={to.plan.top + 18 + index * 26}
          anchor="end"
          {...{ label, text, pointer }}
        />
      ))}
      <Figure
        x={to.plan.left + to.plan.width - 4}
        y={below + 34}
        anchor="end"
        text={`bearing ${shown(changer.disc.bearing_deg, "angle", unit, true)}°`}
        pointer="/changer/disc/bearing_deg"
        kind="angle"
        label="Bearing of the disc"
      />
    </g>
  );
}
