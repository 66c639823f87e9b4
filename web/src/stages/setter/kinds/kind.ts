/** What a kind of setter brings to the interface. */
import type { Kind, Setter, Setup } from "../../../api/client";

export interface Field {
  label: string;
  field: string;
  kind: Kind;
  hint: string;
  /** read off something: it is typed twice, since a slip would go into every length */
  twice?: boolean;
}

export interface SetterView {
  kind: Setter["kind"];
  label: string;
  /** what a new one is called */
  name: string;
  /** whether it stands in a changer */
  inChanger: boolean;
  /** one of this kind, to be measured and corrected */
  template: (setup: Setup, name: string, input: number) => Setter;
  /** the quantities that only this kind has */
  fields: Field[];
}
