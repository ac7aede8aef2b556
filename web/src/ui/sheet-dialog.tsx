import { X } from "lucide-react";
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

/** Focus returns to what opened the dialog, unless the user is somewhere else by then. */
function keepFocusMovedOn(event: Event) {
  if (document.activeElement !== document.body) event.preventDefault();
}

/** A field with something typed in it takes Escape for itself: what stood there comes back, and the dialog stays. */
function leaveEscapeToTheField(event: KeyboardEvent) {
  if (document.activeElement?.matches("[data-takes-escape]")) event.preventDefault();
}

/** A question asked over the page; Escape and a press outside leave it. */
export function SheetDialog(props: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  explanation?: string;
  wide?: boolean;
  children: ReactNode;
}) {
  if (!props.open) return null;
  return (
    <Dialog.Root open onOpenChange={props.onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="not-on-paper fixed inset-0 z-20 bg-[#0a1317]/45" />
        <Dialog.Content
          className={`panel not-on-paper fixed left-1/2 z-30 -translate-x-1/2 overflow-y-auto p-6 ${
            props.wide ? "top-[6vh] max-h-[88vh] w-[min(44rem,calc(100vw-2rem))]" : "top-[12vh] max-h-[80vh] w-[min(30rem,calc(100vw-2rem))]"
          }`}
          onCloseAutoFocus={keepFocusMovedOn}
          onEscapeKeyDown={leaveEscapeToTheField}
          {...(props.explanation ? {} : { "aria-describedby": undefined })}
        >
          <Dialog.Title className="text-xl">{props.title}</Dialog.Title>
          {props.explanation && <Dialog.Description className="mt-1 text-muted">{props.explanation}</Dialog.Description>}
          <div className="mt-4">{props.children}</div>
          <Dialog.Close className="absolute top-4 right-4 rounded-button p-2 text-muted hover:bg-steel" aria-label="Close">
            <X size={18} aria-hidden />
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
