import { useSetup } from "../work/document";
import { isPlanned } from "../work/planned";

/** Whether nobody has entered the quantity yet. */
export const useIsPlanned = (pointer: string | undefined) =>
  useSetup((setup) => pointer !== undefined && isPlanned(setup, pointer));
