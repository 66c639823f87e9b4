/** What a stage brings to the interface. */
import type { ComponentType, LazyExoticComponent } from "react";
import type { AnswerName } from "../api/client";

export interface StageView {
  /** Its name in an address. */
  name: string;
  /** Under which name the server answers what it shows. */
  answer: AnswerName;
  /** Whether it plays a sequence, which stands in the address then. */
  plays?: true;
  Page: LazyExoticComponent<ComponentType>;
}
