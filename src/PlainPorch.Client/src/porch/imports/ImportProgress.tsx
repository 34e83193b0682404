import type { Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { formatCount } from "../../values/format";
import { timeLeft } from "./timeLeft";

interface ImportProgressProps {
  status: Schemas["ImportStatus"];
  onStop: () => void;
}

/** How far an import is, with the way to stop it. */
export function ImportProgress({ status, onStop }: ImportProgressProps) {
  const left = timeLeft(status.done, status.total, status.seconds);
  return (
    <div role="status" className="grid max-w-2xl gap-2 border-l-4 border-accent bg-sheet px-4 py-3">
      <p>
        {status.step} …
        <span className="text-faint">
          {status.done > 0 && ` ${formatCount(status.done)}`}
          {status.done > 0 && status.total > 0 && ` of ${formatCount(status.total)}`}
          {left && ` · ${left}`}
        </span>
      </p>
      {status.total > 0 ? (
        <progress
          aria-label={status.step}
          max={status.total}
          value={status.done}
          className="h-2 w-full accent-accent"
        />
      ) : (
        <progress aria-label={status.step} className="h-2 w-full accent-accent" />
      )}
      <div className="flex flex-wrap items-center gap-3">
        {status.canStop && (
          <Button disabled={status.isStopping} onClick={onStop}>
            {status.isStopping ? "Cancelling …" : "Cancel"}
          </Button>
        )}
        <span className="text-sm text-faint">
          {!status.canStop
            ? "Everything is written. What is left goes on if you close this page."
            : status.state === "running"
              ? "Cancelled, nothing of it is left. It goes on if you close this page."
              : "It only reads, and goes on if you close this page."}
        </span>
      </div>
    </div>
  );
}

/** Whether somebody is at work on an import. */
export function isAtWork(state: Schemas["ImportState"]): boolean {
  return state === "looking" || state === "planning" || state === "running";
}
