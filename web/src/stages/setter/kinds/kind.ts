/** What a kind of setter brings to the interface. */
import type { Kind, Setter } from "../../../api/client";

export interface Field {
  label: string;
  field: string;
  kind: Kind;
  /** read off something: it is typed twice, since a slip would go into every length */
  twice?: boolean;
}

export interface SetterView {
  kind: Setter["kind"];
  label: string;
  /** whether it stands in a changer */
  inChanger: boolean;
  /** the quantities that only this kind has */
  fields: Field[];
}
