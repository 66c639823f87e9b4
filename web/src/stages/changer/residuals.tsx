/** The row of pockets along its bearing, with what each taught one misses the fit by, magnified. */
import type { Alignment, Rack } from "../../api/client";
import { useSize } from "../../drawing/use-size";
import { shown, unitOf } from "../../quantity/format";
import { useUnit } from "../../quantity/rows";

type Fit = NonNullable<Alignment["fit"]>;

const HEIGHT = 176;

/** The row along its bearing; each taught pocket's residual magnified against its allowance. */
export function Residuals({
  rack,
  fit,
  pocket,
  onPocket,
}: {
  rack: Rack;
  fit: Fit | null;
  pocket: number;
  onPocket: (pocket: number) => void;
}) {
  const { element, width } = useSize<HTMLDivElement>();
  const unit = useUnit();
  const step = Math.max(20, (width - 60) / Math.max(1, rack.count));
  const radius = Math.min(34, step / 2 - 3);
  const scale = radius / rack.placing_tolerance;
  const worst = Math.max(0, ...(fit?.taught.map((entry) => entry.distance) ?? []));
  const larger = worst > 0 ? ([20, 10, 5, 2].find((times) => worst * times <= 0.85 * rack.placing_tolerance) ?? 1) : 1;
  const taught = new Map(fit?.taught.map((entry) => [entry.pocket, entry]));
  const known = new Map(fit?.pockets.map((entry) => [entry.pocket, entry]));
  const rows = rack.rows ?? 1;
  const high = HEIGHT - 14;
  return (
    <div ref={element}>
      {width > 100 && (
        <svg width={width} height={14 + rows * high} role="group" aria-label="Residuals of the taught pockets">
          <text x="0" y="14" className="caption">
            rings: the allowance, {shown(rack.placing_tolerance, "length", unit)} {unitOf("length", unit)} · arrows:
            taught less fitted, to the ring's scale · shaded: what the fit leaves open
          </text>
          {Array.from({ length: rows }, (_, row) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
            <path key={row} d={`M10 ${84 + row * high}H${width - 10}`} className="line-centre" />
          ))}
          {Array.from({ length: rack.count * rows }, (_, index) => {
            const number = index + 1;
            const x = 30 + step * ((index % rack.count) + 0.5);
            const middle = 84 + Math.floor(index / rack.count) * high;
            const mine = taught.get(number);
            const open = known.get(number);
            const out = mine?.stands_out;
            const far = mine && mine.distance > rack.placing_tolerance;
            const part = mine && far ? rack.placing_tolerance / mine.distance : 1;
            const end = mine
              ? [x + mine.dx * scale * part * larger, middle - mine.dy * scale * part * larger]
              : [x, middle];
            return (
              <g
                key={number}
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
                <circle
                  cx={x}
                  cy={middle}
                  r={radius}
                  fill="none"
                  className={`ring ${number === pocket ? "line-now" : "line-thin"}`}
                />
                {mine && (
                  <>
                    <path
                      d={`M${x} ${middle}L${end[0]} ${end[1]}`}
                      className={out ? "line-heavy" : "line-outline"}
                      stroke={out ? "var(--stop)" : undefined}
                      style={out ? { stroke: "var(--stop)" } : undefined}
                      data-residual={number}
                    />
                    <circle cx={end[0]} cy={end[1]} r="3.2" fill={out ? "var(--stop)" : "var(--ink)"} />
                  </>
                )}
                <text x={x} y={middle + radius + 18} textAnchor="middle" fontWeight={number === pocket ? 600 : 400}>
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
          })}
        </svg>
      )}
    </div>
  );
}
