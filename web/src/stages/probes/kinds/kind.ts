/** What a kind of probe brings to the interface. */
import type { Kind, Probe } from "../../../api/client";

export interface Field {
  label: string;
  field: string;
  kind: Kind;
  /** read off something: it is typed twice */
  twice?: boolean;
}

export interface ProbeView {
  kind: Probe["kind"];
  label: string;
  says: string;
  /** the quantities that only this kind has */
  fields: Field[];
  /** yes or no */
  switches: [string, string][];
  /** whether its tip is a ball on a stem */
  ball: boolean;
  /** whether it is qualified on a ring, plug or ball */
  qualified: boolean;
}
