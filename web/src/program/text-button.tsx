import type { ComponentProps } from "react";
import { isCurrentNow, useCurrent } from "../work/asking";

/**
 * A button that takes a text away: to the machine, the clipboard or a file. While the text is not yet that of what is
 * chosen and entered, it does nothing; it keeps the focus.
 */
export function TextButton({ onClick, ...rest }: ComponentProps<"button"> & { onClick: () => void }) {
  const current = useCurrent();
  return (
    <button type="button" {...rest} aria-disabled={!current || undefined} onClick={() => isCurrentNow() && onClick()} />
  );
}
