import { AlertDialog } from "radix-ui";
import { useEffect, useRef } from "react";
import { useBlocker } from "react-router";
import { Button } from "../../ui/Button";
import { QuestionFrame } from "../../ui/DialogFrame";

/** Given as the state of a navigation that follows a save, which has nothing left to lose. */
export const afterSaving = { saved: true };

interface LeaveDialogProps {
  /** The labels of the fields that would be lost; none where leaving loses nothing. */
  unsaved: string[];
  /** Called when it is decided to lose them. */
  onDiscard?: () => void;
}

/** Asks before unsaved typing is lost, by a link, the back button or a closed tab. */
export function LeaveDialog({ unsaved, onDiscard }: LeaveDialogProps) {
  const isDirty = unsaved.length > 0;
  const blocker = useBlocker(({ currentLocation, nextLocation }) => {
    const state = nextLocation.state as { saved?: boolean } | null;
    return isDirty && state?.saved !== true && currentLocation.pathname !== nextLocation.pathname;
  });

  // Whoever stays goes on where the typing was, not at the link that was followed.
  const field = useRef<HTMLElement>(null);
  useEffect(() => {
    const note = ({ target }: FocusEvent) => {
      if (target instanceof HTMLElement && target.matches("form [data-column]")) field.current = target;
    };
    document.addEventListener("focusin", note);
    return () => {
      document.removeEventListener("focusin", note);
    };
  }, []);

  useEffect(() => {
    if (!isDirty) return;
    const ask = (event: BeforeUnloadEvent) => {
      event.preventDefault();
    };
    window.addEventListener("beforeunload", ask);
    return () => {
      window.removeEventListener("beforeunload", ask);
    };
  }, [isDirty]);

  if (blocker.state !== "blocked") return null;
  return (
    <AlertDialog.Root open>
      <QuestionFrame
        title="Leave without saving?"
        onEscapeKeyDown={() => {
          blocker.reset();
        }}
        onCloseAutoFocus={(event) => {
          if (!field.current?.isConnected) return;
          event.preventDefault();
          field.current.focus();
        }}
      >
        <AlertDialog.Description className="my-3">
          Not saved yet: {unsaved.join(", ")}. Leaving discards it.
        </AlertDialog.Description>
        <div className="flex flex-wrap justify-end gap-2">
          <AlertDialog.Cancel asChild>
            <Button
              tone="next"
              onClick={() => {
                blocker.reset();
              }}
            >
              Keep editing
            </Button>
          </AlertDialog.Cancel>
          <AlertDialog.Action asChild>
            <Button
              onClick={() => {
                onDiscard?.();
                blocker.proceed();
              }}
            >
              Discard and leave
            </Button>
          </AlertDialog.Action>
        </div>
      </QuestionFrame>
    </AlertDialog.Root>
  );
}
