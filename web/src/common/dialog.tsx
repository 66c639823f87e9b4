import { X } from "lucide-react";
import { Dialog as Radix } from "radix-ui";
import { type ReactNode, useRef } from "react";

/** A window over the page; Escape and the cross close it. */
export function Dialog(props: {
  open: boolean;
  onClose?: () => void;
  title: string;
  children: ReactNode;
  wide?: boolean;
}) {
  const before = useRef<HTMLElement | null>(null);
  return (
    <Radix.Root open={props.open} onOpenChange={(open) => !open && props.onClose?.()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Radix.Content
          aria-describedby={undefined}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[88vh] -translate-x-1/2 -translate-y-1/2 overflow-auto border border-ink bg-panel p-5 ${props.wide ? "w-[780px]" : "w-[520px]"} max-w-[94vw]`}
          onOpenAutoFocus={(event) => {
            before.current = document.activeElement as HTMLElement | null;
            if (props.onClose) return;
            // It came by itself, perhaps in the middle of typing: the next Enter must press nothing.
            event.preventDefault();
            (event.currentTarget as HTMLElement).focus();
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault(); // back to where one was, which is no trigger of the dialog's own
            before.current?.focus();
          }}
          onEscapeKeyDown={(event) => !props.onClose && event.preventDefault()}
          onInteractOutside={(event) => !props.onClose && event.preventDefault()}
        >
          <div className="flex items-center justify-between">
            <Radix.Title className="text-[18px] font-semibold">{props.title}</Radix.Title>
            {props.onClose && (
              <Radix.Close className="button plain border-0! px-2!" aria-label="Close">
                <X size={18} />
              </Radix.Close>
            )}
          </div>
          {props.children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
