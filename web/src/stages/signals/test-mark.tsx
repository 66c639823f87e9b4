/** How a test of an input came out. */
const OUTCOMES = {
  passed: ["✓", "text-proven", "tested"],
  reversed: ["⇄", "text-stop", "reversed"],
  dead: ["✕", "text-stop", "dead"],
  stuck: ["✕", "text-stop", "stuck"],
  unsteady: ["≈", "text-stop", "unsteady"],
} as const;

export function TestMark({ outcome, stale }: { outcome?: keyof typeof OUTCOMES; stale?: boolean }) {
  if (!outcome) return <span className="text-[13.5px] text-ink-3">not tested</span>;
  const [sign, tone, word] = OUTCOMES[outcome];
  return (
    <span className={`text-[13.5px] ${stale ? "text-warn" : tone}`} data-test={stale ? "stale" : outcome}>
      {stale ? "◌ stale" : `${sign} ${word}`}
    </span>
  );
}
