/** The row of pockets along its bearing, with what each taught one misses the fit by, magnified. */
import type { Alignment, Rack } from "../../api/client";
import { useSize } from "../../common/use-size";
import { useUnit } from "../../fields/rows";
import { shown, unitOf } from "../../quantity/format";
import { HIGH, type Placing, placing } from "./residual-placing";

type Fit = NonNullable<Alignment["fit"]>;

interface Props {
  rack: Rack;
  fit: Fit | null;
  pocket: number;
  onPocket: (pocket: number) => void;
}

/** The row along its bearing; each taught pocket's residual magnified against its allowance. */
export function Residuals({ rack, fit, pocket, onPocket }: Props) {
  const { element, width } = useSize<HTMLDivElement>();
  const unit = useUnit();
  const ring = placing(rack, fit?.taught.map((entry) => entry.distance) ?? [], width);
  const rows = rack.rows ?? 1;
  return (
    <div ref={element}>
      {width > 100 && (
        <svg width={width} height={14 + rows * HIGH} role="group" aria-label="Residuals of the taught pockets">
          <text x="0" y="14" className="caption">
            rings: the allowance, {shown(rack.placing_tolerance, "length", unit)} {unitOf("length", unit)} · arrows:
            taught less fitted, to the ring's scale · shaded: what the fit leaves open
          </text>
          {Array.from({ length: rows }, (_, row) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
            <path key={row} d={`M10 ${84 + row * HIGH}H${width - 10}`} className="line-centre" />
          ))}
          {Array.from({ length: rack.count * rows }, (_, index) => (
            <PocketRing
              // biome-ignore lint/suspicious/noArrayIndexKey: pockets are known by their number
              key={index}
              number={index + 1}
              fit={fit}
              ring={ring}
              chosen={index + 1 === pocket}
              onPocket={onPocket}
            />
          ))}
        </svg>
      )}
    </div>
  );
}

interface RingProps {
  number: number;
  fit: Fit | null;
  ring: Placing;
  chosen: boolean;
  onPocket: (pocket: number) => void;
}

function PocketRing({ number, fit, ring, chosen, onPocket }: RingProps) {
  const unit = useUnit();
  const { radius, scale } = ring;
  const [x, middle] = ring.middle(number);
  const mine = fit?.taught.find((entry) => entry.pocket === number);
  const open = fit?.pockets.find((entry) => entry.pocket === number);
  const out = mine?.stands_out;
  return (
    <g
      className="pocket"
      role="button"
      tabIndex={0}
      aria-label={`Pocket ${number}${mine ? `, off by ${shown(mine.distance, "length", unit)}` : ", not taught"}`}
      onClick={() => onPocket(number)}
      onKeyDown={(event) => event.key === "Enter" && onPocket(number)}
    >
      {open && (
        <circle
          cx={x}
          cy={middle}
          r={Math.min(radius * 1.25, open.known_to * scale)}
          fill={open.fits ? "var(--dim-wash)" : "var(--stop-wash)"}
          data-known={number}
        />
      )}
      <circle cx={x} cy={middle} r={radius} fill="none" className={`ring ${chosen ? "line-now" : "line-thin"}`} />
      {mine && <Arrow number={number} from={[x, middle]} to={ring.arrow(number, mine)} out={Boolean(out)} />}
      <text x={x} y={middle + radius + 18} textAnchor="middle" fontWeight={chosen ? 600 : 400}>
        {number}
      </text>
      <text x={x} y={middle + radius + 35} textAnchor="middle" className="caption">
        {mine ? shown(mine.distance, "length", unit) : ""}
      </text>
      {out && (
        <text x={x} y={middle - radius - 8} textAnchor="middle" fill="var(--stop)" fontWeight="600">
          stands out
        </text>
      )}
    </g>
  );
}

function Arrow(props: { number: number; from: [number, number]; to: [number, number]; out: boolean }) {
  const { number, from, to, out } = props;
  return (
    <>
      <path
        d={`M${from[0]} ${from[1]}L${to[0]} ${to[1]}`}
        className={out ? "line-heavy" : "line-outline"}
        stroke={out ? "var(--stop)" : undefined}
        style={out ? { stroke: "var(--stop)" } : undefined}
        data-residual={number}
      />
      <circle cx={to[0]} cy={to[1]} r="3.2" fill={out ? "var(--stop)" : "var(--ink)"} />
    </>
  );
}
