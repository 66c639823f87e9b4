/** Signs that are distinguished by shape as well as by colour. */
import type { Finding, Stage } from "../api/client";

export function Mark({ size = 26 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 26 26" fill="none" stroke="currentColor" strokeWidth="1.9" aria-hidden>
      <path d="M4 22V9M4 22H17M4 22 12 14" />
      <path d="M12 14V4M12 14H23" stroke="var(--now)" />
    </svg>
  );
}

/** Hollow: open; half: filled in; ticked: proven; broken ring: stale; diamond: something is wrong. */
export function StageMark({ mark }: { mark: Stage["mark"] }) {
  return (
    <svg width="18" height="18" className="bg-panel" aria-hidden>
      {mark === "proven" && (
        <>
          <circle cx="9" cy="9" r="7" fill="var(--proven)" />
          <path d="M5.4 9.2 8 11.8 12.7 6.6" fill="none" stroke="var(--sheet)" strokeWidth="1.9" />
        </>
      )}
      {mark === "filled" && (
        <>
          <circle cx="9" cy="9" r="6.6" fill="var(--panel)" stroke="var(--ink-2)" strokeWidth="1.6" />
          <path d="M9 2.4A6.6 6.6 0 0 1 9 15.6Z" fill="var(--ink-2)" />
        </>
      )}
      {mark === "open" && <circle cx="9" cy="9" r="6.6" fill="var(--panel)" stroke="var(--ink-3)" strokeWidth="1.4" />}
      {mark === "stale" && (
        <>
          <circle
            cx="9"
            cy="9"
            r="6.6"
            fill="var(--panel)"
            stroke="var(--warn)"
            strokeWidth="2"
            strokeDasharray="4.6 2.3"
          />
          <path d="M9 5.4V9.6M9 11.4v1.5" stroke="var(--warn)" strokeWidth="1.8" />
        </>
      )}
      {mark === "failing" && <Diamond />}
    </svg>
  );
}

function Diamond() {
  return (
    <>
      <path d="M9 1.4 16.6 9 9 16.6 1.4 9Z" fill="var(--stop)" />
      <path d="M6.6 6.6 11.4 11.4M11.4 6.6 6.6 11.4" stroke="var(--sheet)" strokeWidth="1.7" />
    </>
  );
}

export function SeverityMark({ severity }: { severity: Finding["severity"] | null }) {
  return (
    <svg width="20" height="20" viewBox={severity === "stop" ? "-1 -1 20 20" : "0 0 20 20"} aria-hidden>
      {severity === "stop" && <Diamond />}
      {severity === "warn" && (
        <>
          <path d="M10 2.2 18.4 17H1.6Z" fill="var(--warn-wash)" stroke="var(--warn)" strokeWidth="1.5" />
          <path d="M10 7.5V12M10 14v1.4" stroke="var(--warn)" strokeWidth="1.7" />
        </>
      )}
      {severity === "note" && (
        <>
          <circle cx="10" cy="10" r="7.4" fill="none" stroke="var(--note)" strokeWidth="1.5" />
          <path d="M10 9v5M10 5.6v1.5" stroke="var(--note)" strokeWidth="1.7" />
        </>
      )}
      {severity === null && <path d="M4 10.5l4.4 4.6 8-9" fill="none" stroke="var(--proven)" strokeWidth="2" />}
    </svg>
  );
}
