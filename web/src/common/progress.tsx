/** How far a long work is, 0 to 1. */
export function Progress({ of, share, className = "" }: { of: string; share: number; className?: string }) {
  return (
    <div
      className={`h-2.5 overflow-hidden rounded-xs border border-ink-2 ${className}`}
      role="progressbar"
      aria-label={`Progress of the ${of}`}
      aria-valuenow={Math.round(share * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
    >
      <div className="h-full bg-ink-2" style={{ width: `${share * 100}%` }} />
    </div>
  );
}
