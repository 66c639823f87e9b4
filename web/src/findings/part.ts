import type { Finding } from "../api/client";

/** A finding's part of the address: its check, and where it is. */
export function findingPart(finding: Finding): string {
  return `${finding.check}@${finding.line ?? finding.quantity ?? ""}`;
}
