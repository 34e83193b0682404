import { useSyncExternalStore } from "react";
import { pendingActs, type PendingAct } from "../api/acts";
import { Button } from "./Button";

const says: Record<PendingAct["state"], string> = {
  findingOut:
    "The database did not answer, so it is not yet known whether this was done. Plain Porch is checking. Nothing you typed is lost.",
  done: "It is now certain that this was done.",
  notDone: "It is now certain that this was not done. Nothing was changed.",
};

/** Says of what it is not known yet whether it was done, and then what came of it. */
export function PendingNotices() {
  const acts = useSyncExternalStore(pendingActs.subscribe, pendingActs.now);
  if (acts.length === 0) return null;
  return (
    <div className="fixed inset-x-0 bottom-0 z-40 grid gap-px">
      {acts.map((act) => (
        <div
          key={act.id}
          role={act.state === "findingOut" ? "alert" : "status"}
          className={`flex flex-wrap items-center justify-between gap-3 border-t-2 bg-tint px-4 py-2 sm:px-6 ${act.state === "done" ? "border-edge" : "border-danger"}`}
        >
          <p className="max-w-prose">{says[act.state]}</p>
          {act.state !== "findingOut" && (
            <Button
              onClick={() => {
                pendingActs.close(act.id);
              }}
            >
              Close
            </Button>
          )}
        </div>
      ))}
    </div>
  );
}
