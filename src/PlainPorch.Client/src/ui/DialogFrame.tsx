import { AlertDialog, Dialog } from "radix-ui";
import type { ComponentProps, ReactNode } from "react";

const overlayClass = "fixed inset-0 z-20 bg-ink/40";

const sheetClass =
  "fixed top-1/2 left-1/2 z-30 max-h-[90dvh] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-md border border-line bg-sheet p-5 shadow-xl";

const usualWidth = "w-[min(36rem,calc(100vw-2rem))]";

interface DialogFrameProps {
  title: ReactNode;
  onOpenChange: (isOpen: boolean) => void;
  isWide?: boolean;
  children: ReactNode;
}

/** The frame of a dialog in which something is looked at or filled in. It is open as long as it is there. */
export function DialogFrame({ title, onOpenChange, isWide = false, children }: DialogFrameProps) {
  return (
    <Dialog.Root open onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className={overlayClass} />
        <Dialog.Content
          className={`${sheetClass} ${isWide ? "w-[min(56rem,calc(100vw-2rem))]" : usualWidth}`}
          aria-describedby={undefined}
          onEscapeKeyDown={(event) => {
            // The first press closes the list that is open in it.
            if (document.activeElement?.getAttribute("aria-expanded") === "true") event.preventDefault();
          }}
        >
          <Dialog.Title className="text-xl font-semibold">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

interface QuestionFrameProps extends Omit<ComponentProps<typeof AlertDialog.Content>, "title"> {
  title: ReactNode;
}

/** The frame of a dialog that asks before something is done; within a root, which says when it is open. */
export function QuestionFrame({ title, children, ...content }: QuestionFrameProps) {
  return (
    <AlertDialog.Portal>
      <AlertDialog.Overlay className={overlayClass} />
      <AlertDialog.Content className={`${sheetClass} ${usualWidth}`} {...content}>
        <AlertDialog.Title className="text-xl font-semibold">{title}</AlertDialog.Title>
        {children}
      </AlertDialog.Content>
    </AlertDialog.Portal>
  );
}
