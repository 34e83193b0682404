import { useMutation, useQuery } from "@tanstack/react-query";
import { AlertDialog } from "radix-ui";
import { api, unwrap, type Panel, type Schemas } from "../../api/client";
import { mergePlanQuery, type PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { QuestionFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { formatCount } from "../../values/format";
import { someOf } from "../removal/words";

interface MergeDialogProps {
  address: PanelAddress;
  panel: Panel;
  wish: Schemas["MergeWish"];
  onMerged: (done: Schemas["RemovalOutcomeDone"]) => void;
  onClose: () => void;
}

/** Says what making records one would do, and leaves the decision to a deliberate press. */
export function MergeDialog({ address, panel, wish, onMerged, onClose }: MergeDialogProps) {
  const plan = useQuery(mergePlanQuery(address, wish));
  const changed = useRecordsChanged();
  const merge = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/duplicates/merge", { params: { path: address }, body: wish }),
      ),
    onSuccess: (done) => {
      onMerged(done);
      onClose();
      void changed(address.porch);
    },
  });
  return (
    <AlertDialog.Root
      open
      onOpenChange={() => {
        if (!merge.isPending) onClose();
      }}
    >
      <QuestionFrame
        title={
          <>
            {plan.data
              ? `Merge into “${plan.data.title}” (${panel.recordLabel} ${wish.survivor})?`
              : `Merge these ${panel.label}?`}
          </>
        }
      >
        <AlertDialog.Description className="mt-2">
          All of it can be brought back from what is set aside.
        </AlertDialog.Description>
        {plan.isPending && <Loading what="what refers to them" />}
        {plan.isError && <Failure error={plan.error} onRetry={() => void plan.refetch()} />}
        {plan.data && <Plan plan={plan.data} names={wish.others.map((key) => `${panel.recordLabel} ${key}`)} />}
        {merge.isError && <Failure error={merge.error} />}
        <div className="mt-5 flex flex-wrap justify-end gap-2">
          <AlertDialog.Cancel asChild>
            <Button disabled={merge.isPending}>Cancel</Button>
          </AlertDialog.Cancel>
          <Button
            tone="next"
            disabled={!plan.data || merge.isPending}
            onClick={() => {
              merge.mutate();
            }}
          >
            {merge.isPending ? "Merging …" : "Merge"}
          </Button>
        </div>
      </QuestionFrame>
    </AlertDialog.Root>
  );
}

// Duplicates are called the same, so their keys tell them apart.
function Plan({ plan, names }: { plan: Schemas["MergeProposal"]; names: string[] }) {
  return (
    <div className="mt-3 grid gap-3">
      <Part
        title={plan.others.length === 1 ? "Is set aside" : `${formatCount(plan.others.length)} are set aside`}
        lines={
          plan.others.length === 1
            ? [`${plan.others[0]} (${names.join(", ")})`]
            : [...plan.others, `(${names.join(", ")})`]
        }
      />
      <Part title={`Will refer to “${plan.title}”`} lines={plan.repointed.map(sayPart)} />
      <Part title="Would be duplicated, so set aside as well" lines={plan.doubles.map(sayPart)} />
      {plan.repointed.length === 0 && <p className="text-faint">No other records refer to them.</p>}
    </div>
  );
}

function sayPart(part: Schemas["MergedPart"]): string {
  return `${someOf(part.count, part.label)} (${part.titles.join(", ")}${part.count > part.titles.length ? " …" : ""})`;
}

function Part({ title, lines }: { title: string; lines: string[] }) {
  if (lines.length === 0) return null;
  return (
    <section aria-label={title}>
      <h3 className="font-sans text-sm font-semibold text-faint">{title}</h3>
      <ul>
        {lines.map((line, place) => (
          <li key={place}>{line}</li>
        ))}
      </ul>
    </section>
  );
}
