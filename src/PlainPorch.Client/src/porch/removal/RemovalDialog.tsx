import { useMutation, useQuery } from "@tanstack/react-query";
import { AlertDialog } from "radix-ui";
import { useRef, useState } from "react";
import type { Panel, Schemas } from "../../api/client";
import { removalPlanQuery, type PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { CountField } from "../../ui/CountField";
import { QuestionFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { formatCount } from "../../values/format";
import { readCount } from "../../values/input";
import { removeRecords } from "./removeRecords";
import { RemovalPlan } from "./RemovalPlan";
import { countOf, nameOf, verbOf } from "./words";

type Proposal = Schemas["RemovalProposal"];

interface RemovalDialogProps {
  address: PanelAddress;
  panel: Panel;
  keys: string[];
  /** Whether records that are set aside are to be erased, instead of records in use removed. */
  forGood?: boolean;
  onRemoved: (done: Schemas["RemovalOutcomeDone"]) => void;
  onClose: () => void;
}

/** Says what would be removed and what goes with it, and leaves the decision to a deliberate press. */
export function RemovalDialog({ address, panel, keys, forGood = false, onRemoved, onClose }: RemovalDialogProps) {
  const plan = useQuery(removalPlanQuery(address, keys, forGood));
  const [anew, setAnew] = useState<Proposal | null>(null);
  const [progress, setProgress] = useState<Schemas["RemovalProgress"] | null>(null);
  const [typed, setTyped] = useState("");
  const giveUp = useRef<AbortController | null>(null);
  const changed = useRecordsChanged();
  const proposal = anew ?? plan.data;
  const remove = useMutation({
    mutationFn: async (wanted: Proposal) => {
      giveUp.current = new AbortController();
      const end = await removeRecords(
        address,
        { keys, forGood, fingerprint: wanted.fingerprint, typed: wanted.mustBeTyped ? readCount(typed) : null },
        setProgress,
        giveUp.current.signal,
      );
      if (end.became === "refused") throw new Error(end.problems.map((problem) => problem.message).join(" "));
      if (end.became === "stale") setAnew(end.now);
      else {
        void changed(address.porch);
        onRemoved(end.done);
      }
    },
    onSettled: () => {
      setProgress(null);
    },
  });
  const gaveUp = remove.isError && remove.error.name === "AbortError";
  const isBlocked = !proposal || proposal.problem !== null || proposal.forbidding.length > 0 || proposal.chosen === 0;
  const isReady = !isBlocked && (!proposal.mustBeTyped || readCount(typed) === proposal.count);
  const verb = proposal ? verbOf(proposal.manner) : forGood ? verbOf("erase") : verbOf(panel.manner);

  return (
    <AlertDialog.Root
      open
      onOpenChange={(open) => {
        if (open) return;
        // Whoever turns away while it goes on means that it should not.
        giveUp.current?.abort();
        if (!remove.isPending) onClose();
      }}
    >
      <QuestionFrame
        title={
          <>
            {verb} {proposal ? nameOf(panel, proposal) : countOf(panel, keys.length)}
            {proposal?.canBeBroughtBack === false && " for good"}?
          </>
        }
      >
        {anew && (
          <p role="alert" className="mt-2 font-medium text-danger">
            Something has changed since you looked, so nothing was done. This is the current state.
          </p>
        )}
        {plan.isPending && <Loading what="what is affected" />}
        {plan.isError && <Failure error={plan.error} onRetry={() => void plan.refetch()} />}
        {proposal ? (
          <RemovalPlan address={address} panel={panel} keys={keys} forGood={forGood} proposal={proposal} />
        ) : (
          <AlertDialog.Description className="sr-only">Working out what this affects …</AlertDialog.Description>
        )}
        {proposal?.mustBeTyped && !isBlocked && (
          <div className="mt-4 max-w-60">
            <CountField
              label={`Type ${formatCount(proposal.count)} to erase that many records`}
              value={typed}
              onType={setTyped}
            />
          </div>
        )}
        {progress && <Progress progress={progress} />}
        {remove.isError && (
          <div className="mt-3">
            {gaveUp ? <p role="status">Cancelled. Nothing was changed.</p> : <Failure error={remove.error} />}
          </div>
        )}
        <div className="mt-5 flex flex-wrap justify-end gap-2">
          <AlertDialog.Cancel asChild>
            <Button>{remove.isPending ? "Stop" : isBlocked ? "Close" : "Cancel"}</Button>
          </AlertDialog.Cancel>
          {!isBlocked && (
            <Button
              tone={proposal.canBeBroughtBack ? "next" : "danger"}
              disabled={!isReady || remove.isPending}
              onClick={() => {
                remove.mutate(proposal);
              }}
            >
              {remove.isPending ? `${verb} …` : proposal.canBeBroughtBack ? verb : `${verb} for good`}
            </Button>
          )}
        </div>
      </QuestionFrame>
    </AlertDialog.Root>
  );
}

function Progress({ progress }: { progress: Schemas["RemovalProgress"] }) {
  return (
    <div className="mt-4">
      <p role="status">
        {progress.step} … {progress.of > 1 && `${formatCount(progress.done)} of ${formatCount(progress.of)}`}
      </p>
      <progress className="mt-1 h-2 w-full accent-accent" value={progress.done} max={Math.max(progress.of, 1)} />
    </div>
  );
}
