import { useMutation, useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { newOnceKey } from "../../api/acts";
import { api, once, unwrap, type Column, type Panel, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { DialogFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { formatCount, formatValue } from "../../values/format";
import { tidyProgressQuery } from "./queries";
import { recordsIn, seeable, type Change } from "./tidying";

interface TidyDialogProps {
  address: PanelAddress;
  panel: Panel;
  column: Column;
  changes: Change[];
  /** Told what the server says against single spellings. */
  onProblems: (problems: Record<string, string>) => void;
  onDone: (done: Schemas["ChangeOutcomeDone"]) => void;
  onClose: () => void;
}

// More lines nobody reads before saying yes.
const SHOWN = 12;

/** The plan with its numbers, before anything is changed; then how far it is. */
export function TidyDialog({ address, panel, column, changes, onProblems, onDone, onClose }: TidyDialogProps) {
  const [key] = useState(newOnceKey);
  const changed = useRecordsChanged();
  const total = recordsIn(changes);
  const records = total === 1 ? `1 ${panel.recordLabel}` : `${formatCount(total)} records`;
  const tidy = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/tidying/{column}", {
          params: { path: { ...address, column: column.name }, header: once(key) },
          body: { changes: changes.map(({ from, to }) => ({ from, to })) },
        }),
      ),
    onSuccess: (done) => {
      void changed(address.porch);
      onDone(done);
    },
    onError: (error) => {
      if (error instanceof ApiError) onProblems(error.fields);
    },
  });
  const progress = useQuery({ ...tidyProgressQuery(address, column.name, key), enabled: tidy.isPending });
  const most = [...changes].sort((one, other) => other.count - one.count).slice(0, SHOWN);
  return (
    <DialogFrame
      title={`Tidy ${column.label} in ${records}?`}
      onOpenChange={() => {
        if (!tidy.isPending) onClose();
      }}
    >
      <table className="mt-3 w-full border-collapse text-[15px]">
        <thead>
          <tr className="text-left text-sm text-faint">
            <th scope="col" className="py-1 pr-3 font-medium">
              Now
            </th>
            <th scope="col" className="py-1 pr-3 font-medium">
              Then
            </th>
            <th scope="col" className="py-1 text-right font-medium">
              Records
            </th>
          </tr>
        </thead>
        <tbody>
          {most.map(({ from, to, count }) => (
            <tr key={from} className="border-t border-line">
              <td className="py-1 pr-3 break-words">{seeable(from)}</td>
              <td className="py-1 pr-3 break-words">
                {to === null ? <span className="text-faint">(empty)</span> : formatValue(column, to)}
              </td>
              <td className="py-1 text-right tabular-nums">{formatCount(count)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {changes.length > most.length && (
        <p className="mt-1 text-sm text-faint">… and {formatCount(changes.length - most.length)} rarer spellings.</p>
      )}
      <p className="mt-3 text-[15px]">
        All of it is done, or nothing. It is one entry in the logbook, and can be changed back.
      </p>
      {tidy.isError && <Failure error={tidy.error} />}
      {tidy.isPending && (
        <div className="mt-3 grid gap-1" role="status">
          <progress
            aria-label="Records done"
            className="h-2 w-full accent-accent"
            max={total}
            value={progress.data?.done ?? 0}
          />
          <p className="text-sm text-faint">
            {formatCount(progress.data?.done ?? 0)} of {formatCount(total)} records
          </p>
        </div>
      )}
      <div className="mt-4 flex flex-wrap justify-end gap-2">
        <Dialog.Close asChild>
          <Button disabled={tidy.isPending}>Cancel</Button>
        </Dialog.Close>
        <Button
          tone="next"
          disabled={tidy.isPending}
          onClick={() => {
            tidy.mutate();
          }}
        >
          {tidy.isPending ? "Tidying …" : `Tidy ${records}`}
        </Button>
      </div>
    </DialogFrame>
  );
}
