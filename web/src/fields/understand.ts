/** A typed number, understood by the server; where it can't be asked, what was entered counts as not sent. */
import type { Kind } from "../api/client";
import type { MachineUnit } from "../quantity/format";
import { lose } from "../work/document";
import { understood } from "../work/understood";
import { NO_CONNECTION } from "../work/unsent";

export const understand = (text: string, kind: Kind, unit: MachineUnit) => understood(text, kind, unit, lose);

/** A number without a unit, as a control shows it; or what is wrong with it. */
export async function plainNumber(text: string): Promise<number | string> {
  try {
    const found = await understand(text, "count", "mm");
    return found.value ?? found.what ?? "Type the number as the control shows it.";
  } catch (failed) {
    return failed instanceof Error ? failed.message : NO_CONNECTION;
  }
}
