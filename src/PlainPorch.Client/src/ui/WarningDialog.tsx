import { AlertDialog } from "radix-ui";
import { useSyncExternalStore } from "react";
import { warnings } from "../api/warnings";
import { Button } from "./Button";
import { QuestionFrame } from "./DialogFrame";

/** Asks whether something is to be done of which a check warns. */
export function WarningDialog() {
  const warning = useSyncExternalStore(warnings.subscribe, warnings.now);
  if (!warning) return null;
  return (
    <AlertDialog.Root
      open
      onOpenChange={() => {
        warning.answer(false);
      }}
    >
      <QuestionFrame title="Is this meant so?">
        <AlertDialog.Description asChild>
          <ul className="mt-3 grid gap-1">
            {warning.messages.map((message) => (
              <li key={message}>{message}</li>
            ))}
          </ul>
        </AlertDialog.Description>
        <p className="mt-2 text-faint">Nothing is done yet. If you go on, the logbook says so.</p>
        <div className="mt-4 flex flex-wrap gap-3">
          <AlertDialog.Cancel asChild>
            <Button tone="next">Go back</Button>
          </AlertDialog.Cancel>
          <Button
            onClick={() => {
              warning.answer(true);
            }}
          >
            Go on anyway
          </Button>
        </div>
      </QuestionFrame>
    </AlertDialog.Root>
  );
}
