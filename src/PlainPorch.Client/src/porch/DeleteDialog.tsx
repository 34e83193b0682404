import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { AlertDialog } from "radix-ui";
import { api, ifMatch, unwrap, type Panel, type Schemas } from "../api/client";
import { ApiError } from "../api/problems";
import { deletionQuery, recordsKey, type PanelAddress } from "../api/queries";
import { Button } from "../ui/Button";
import { overlayClass, sheetClass } from "../ui/DialogFrame";
import { Failure } from "../ui/Failure";
import { Loading } from "../ui/Loading";
import { formatCount } from "../values/format";

interface DeleteDialogProps {
  address: PanelAddress;
  panel: Panel;
  recordKey: string;
  onDeleted: () => void;
  onClose: () => void;
}

/** Says what would be deleted and what hangs on it, and leaves the decision to a deliberate press. */
export function DeleteDialog({ address, panel, recordKey, onDeleted, onClose }: DeleteDialogProps) {
  const deletion = useQuery(deletionQuery(address, recordKey));
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: (version: number) =>
      unwrap(
        api.DELETE("/api/porches/{porch}/panels/{panel}/records/{key}", {
          params: { path: { ...address, key: recordKey }, header: ifMatch(version) },
        }),
      ),
    onSuccess: () => {
      onDeleted();
      void client.invalidateQueries({ queryKey: recordsKey(address) });
    },
    onError: () => void deletion.refetch(),
  });
  const changed = remove.error instanceof ApiError && remove.error.status === 412;

  return (
    <AlertDialog.Root
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
    >
      <AlertDialog.Portal>
        <AlertDialog.Overlay className={overlayClass} />
        <AlertDialog.Content className={sheetClass}>
          <AlertDialog.Title className="text-xl font-semibold">
            Delete {panel.recordLabel} {deletion.data && <em>{deletion.data.record.title}</em>}?
          </AlertDialog.Title>
          <AlertDialog.Description className="mt-2">
            {deletion.data?.isForbidden
              ? `It cannot be deleted from ${panel.label} while other records hold on to it.`
              : `It is taken out of ${panel.label} for good. This is permanent: nothing here can bring it back.`}
          </AlertDialog.Description>
          {deletion.isPending && <Loading what="what hangs on it" />}
          {deletion.isError && <Failure error={deletion.error} />}
          {deletion.data && <Holders holders={deletion.data.holders} isForbidden={deletion.data.isForbidden} />}
          {changed && (
            <p role="alert" className="mt-3 font-medium text-danger">
              Somebody changed it just now, so it was not deleted. Look at it again before you decide.
            </p>
          )}
          {remove.error && !changed && (
            <div className="mt-3">
              <Failure error={remove.error} />
            </div>
          )}
          <div className="mt-5 flex flex-wrap justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button>{deletion.data?.isForbidden ? "Close" : `Keep ${panel.recordLabel}`}</Button>
            </AlertDialog.Cancel>
            {deletion.data && !deletion.data.isForbidden && (
              <Button
                tone="danger"
                disabled={remove.isPending}
                onClick={() => {
                  remove.mutate(deletion.data.record.version);
                }}
              >
                {remove.isPending ? "Deleting …" : "Delete for good"}
              </Button>
            )}
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}

function Holders({ holders, isForbidden }: { holders: Schemas["Holder"][]; isForbidden: boolean }) {
  // Where deleting is out of the question, what else would happen is beside the point.
  const shown = holders.filter((holder) => !isForbidden || holder.onDelete === "forbid");
  if (shown.length === 0) return null;
  return (
    <ul className="mt-3 border-t border-line">
      {shown.map((holder) => (
        <li key={`${holder.label} ${holder.onDelete}`} className="border-b border-line py-1.5">
          <strong>
            {formatCount(holder.count)} {holder.count === 1 ? "record" : "records"} in {holder.label}
          </strong>{" "}
          {consequence(holder.onDelete, holder.count === 1)}
        </li>
      ))}
    </ul>
  );
}

function consequence(rule: Schemas["DeleteRule"], isOne: boolean): string {
  switch (rule) {
    case "forbid":
      return `${isOne ? "refers" : "refer"} to it, so the database keeps it. Change or delete ${isOne ? "that" : "those"} first.`;
    case "cascade":
      return `${isOne ? "goes" : "go"} with it, for good.`;
    case "setNull":
      return `${isOne ? "stays" : "stay"}, and no longer ${isOne ? "refers" : "refer"} to anything.`;
    case "setDefault":
      return `${isOne ? "stays" : "stay"}, with the default reference.`;
  }
}
