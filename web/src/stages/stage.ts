/** What a stage brings to the interface. */
import type { ComponentType, LazyExoticComponent } from "react";
import type { PreviewIn } from "../api/client";

export type Shown = NonNullable<PreviewIn["stage"]>;

export interface StageView {
  /** Its name in an address. */
  name: string;
  /** Under which name the server answers what it shows. */
  answer: Shown;
  /** Whether it plays a sequence, which stands in the address then. */
  plays?: true;
  Page: LazyExoticComponent<ComponentType>;
}
