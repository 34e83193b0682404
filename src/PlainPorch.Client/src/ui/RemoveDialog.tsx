import { AlertDialog } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./Button";
import { QuestionFrame } from "./DialogFrame";
import { Failure } from "./Failure";

interface RemoveDialogProps {
  /** What is removed, such as "panel". */
  kind: string;
  name: string;
  /** What goes with it and what does not. */
  children: ReactNode;
  isPending: boolean;
  error: Error | null;
  /** Whether something has to be decided first. */
  isBlocked?: boolean;
  onOpen?: () => void;
  onRemove: () => void;
}

/** A button that asks before something of the back room is removed for good. */
export function RemoveDialog({
  kind,
  name,
  children,
  isPending,
  error,
  isBlocked = false,
  onOpen,
  onRemove,
}: RemoveDialogProps) {
  return (
    <AlertDialog.Root
      onOpenChange={(open) => {
        if (open) onOpen?.();
      }}
    >
      <AlertDialog.Trigger asChild>
        <Button>Remove …</Button>
      </AlertDialog.Trigger>
      <QuestionFrame
        title={
          <>
            Remove {kind} <em>{name}</em>?
          </>
        }
      >
        <AlertDialog.Description asChild>
          <div className="mt-2 grid gap-3">{children}</div>
        </AlertDialog.Description>
        {error && <Failure error={error} />}
        <div className="mt-5 flex flex-wrap justify-end gap-2">
          <AlertDialog.Cancel asChild>
            <Button>Cancel</Button>
          </AlertDialog.Cancel>
          <Button tone="danger" disabled={isPending || isBlocked} onClick={onRemove}>
            Remove permanently
          </Button>
        </div>
      </QuestionFrame>
    </AlertDialog.Root>
  );
}
