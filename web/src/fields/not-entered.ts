import { isPlanned } from "../work/planned";
import { useWork } from "../work/store";

/** Whether nobody has entered the quantity yet. */
export const useIsPlanned = (pointer: string | undefined) =>
  useWork((work) => pointer !== undefined && isPlanned(work.document, pointer));
