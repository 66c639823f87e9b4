/** How an input is wired: the control's terminal, held high, the contact that connects it to ground, and its level. */
import type { Input } from "../../api/client";

export function Circuit({ input }: { input: Input }) {
  const closed = input.wiring === "normally closed";
  return (
    <svg
      viewBox="0 0 300 196"
      className="w-full max-w-[340px]"
      role="img"
      aria-label={`Wiring: ${input.wiring}, made when ${input.level}`}
    >
      <rect x="6" y="14" width="112" height="150" fill="var(--panel)" className="line-outline" />
      <text x="16" y="34" className="caption">
        control
      </text>
      <path d="M84 26V46M78 46h12v26H78ZM84 72V98" fill="none" className="line-outline" />
      <path d="M76 26h16" className="line-heavy" />
      <text x="96" y="30" className="caption">
        +
      </text>
      <path d="M84 98H118" className="line-outline" />
      <circle cx="84" cy="98" r="2.6" fill="var(--ink)" />
      <path d="M84 98H52" className="line-dimension" />
      <text x="16" y="120" fontSize="13">
        made when
      </text>
      <text x="16" y="138" fontSize="15" fontWeight="600" fill="var(--dim)">
        {input.level}
      </text>
      <circle cx="118" cy="98" r="5" fill="var(--sheet)" className="line-outline" />
      <text x="126" y="88" fontSize="13">
        {input.terminal}
      </text>
      <path d="M123 98H186" className="line-outline" />
      <circle cx="189" cy="98" r="3" fill="var(--sheet)" className="line-outline" />
      <circle cx="189" cy="138" r="3" fill="var(--sheet)" className="line-outline" />
      <path d={closed ? "M189 101 L190 135" : "M189 135 L204 104"} className="line-now" />
      <path d="M189 141V170M177 170h24M181 176h16M185 182h8" fill="none" className="line-outline" />
      <text x="212" y="112" fontSize="14">
        {input.role}
      </text>
      <text x="212" y="130" className="caption">
        {input.wiring}
      </text>
      <text x="208" y="180" className="caption">
        ground
      </text>
      <text x="134" y="118" className="caption">
        lead
      </text>
    </svg>
  );
}
