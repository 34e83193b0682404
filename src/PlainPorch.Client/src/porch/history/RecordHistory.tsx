import { formatMoment } from "../../values/format";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ifMatch, unwrap, type Panel, type RecordView, type Schemas } from "../../api/client";
import { historyQuery, type PanelAddress } from "../../api/queries";
import { bareOf } from "../../api/bare";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { ValueList } from "../records/ValueList";
import { Changes } from "./Changes";
import { actWord } from "./words";
import { Despite } from "./Despite";

type Step = Schemas["HistoryStep"];

interface RecordHistoryProps {
  address: PanelAddress;
  panel: Panel;
  record: RecordView;
}

/** What was done with a record, the latest first; any earlier state can be looked at and brought back. */
export function RecordHistory({ address, panel, record }: RecordHistoryProps) {
  const [isOpen, setOpen] = useState(false);
  const history = useQuery({ ...historyQuery(address, record.key), enabled: isOpen });
  const [shown, setShown] = useState<Step | null>(null);
  return (
    <details
      className="border-t border-line pt-3"
      open={isOpen}
      onToggle={(event) => {
        setOpen(event.currentTarget.open);
      }}
    >
      <summary className="cursor-pointer text-base font-semibold">History</summary>
      <div className="mt-2 grid gap-2">
        {history.isPending && <Loading what="the history" />}
        {history.isError && <Failure error={history.error} onRetry={() => void history.refetch()} />}
        {history.data?.steps.length === 0 && (
          <p className="text-faint">
            No changes have been made here yet. Changes by other programs before that are not known.
          </p>
        )}
        {history.data?.isChangedElsewhere && (
          <div className="border-l-4 border-edge bg-tint px-3 py-2">
            <p className="font-semibold">Changed elsewhere</p>
            <p className="text-sm text-faint">Another program has changed it since it was last saved here.</p>
            <Changes panel={panel} changes={history.data.changedElsewhere} />
          </div>
        )}
        <ol className="grid gap-2">
          {history.data?.steps.map((step, place) => (
            <li key={step.entry.id} className="border-b border-line pb-2">
              <div className="flex flex-wrap items-baseline gap-x-3">
                <p className="mr-auto">
                  <strong className="font-semibold">{actWord(step.act)}</strong>{" "}
                  <span className="text-sm text-faint">
                    {formatMoment(step.entry.at)} by {step.entry.who}
                    <Despite checks={step.entry.despite} />
                    {step.entry.count > 1 &&
                      `, with ${step.entry.count - 1} ${step.entry.count === 2 ? "other" : "others"}`}
                    {!step.entry.isSettled && " · not yet confirmed"}
                  </span>
                </p>
                {place > 0 && (
                  <Button
                    aria-expanded={shown === step}
                    onClick={() => {
                      setShown(shown === step ? null : step);
                    }}
                  >
                    {shown === step ? "Close" : "As it was then"}
                  </Button>
                )}
              </div>
              <Changes panel={panel} changes={step.changes} />
              {shown === step && <Then address={address} panel={panel} record={record} step={step} />}
            </li>
          ))}
        </ol>
        {history.data?.hasMore && <p className="text-faint">Earlier steps are in the logbook.</p>}
      </div>
    </details>
  );
}

interface ThenProps extends RecordHistoryProps {
  step: Step;
}

function Then({ address, panel, record, step }: ThenProps) {
  const changed = useRecordsChanged();
  const columns = panel.columns.filter((column) => column.inForm && column.name in step.then);
  const differing = columns.filter(
    (column) =>
      column.isWritable &&
      column.kind !== "binary" &&
      !panel.identity.includes(column.name) &&
      step.then[column.name] !== record.values[column.name],
  );
  const bringBack = useMutation({
    mutationFn: () =>
      unwrap(
        api.PUT("/api/porches/{porch}/panels/{panel}/records/{key}", {
          params: { path: { ...address, key: record.key }, header: ifMatch(record.version) },
          body: {
            values: bareOf(differing.map((column) => [column.name, step.then[column.name] ?? null] as const)),
          },
        }),
      ),
    onSuccess: () => {
      void changed(address.porch);
    },
  });
  return (
    <div className="mt-2 grid gap-3 border-l-4 border-line bg-sheet px-4 py-3">
      <ValueList porch={address.porch} columns={columns} values={step.then} lookups={{}} />
      {differing.length === 0 ? (
        <p className="text-faint">It has these values now.</p>
      ) : (
        panel.canEdit && (
          <div className="flex flex-wrap items-center gap-3">
            <Button
              disabled={bringBack.isPending}
              onClick={() => {
                bringBack.mutate();
              }}
            >
              Bring these values back
            </Button>
            <span className="text-sm text-faint">
              {differing.map((column) => column.label).join(", ")} would change.
            </span>
          </div>
        )
      )}
      {bringBack.isError && <Failure error={bringBack.error} />}
    </div>
  );
}
