import { useMutation } from "@tanstack/react-query";
import { api, unwrap, type Schemas } from "../../../api/client";
import type { PanelAddress } from "../../../api/queries";
import { useRecordsChanged } from "../../../api/recordsChanged";
import { Button } from "../../../ui/Button";
import { Notice } from "../../../ui/Notice";
import { formatCount, formatRecords } from "../../../values/format";

/** What became of a change of several records, and which field it was. */
export type Changed = Schemas["ChangeOutcomeDone"] & { label: string };

interface ChangedNoticeProps {
  address: PanelAddress;
  changed: Changed;
  onClose: () => void;
  /** Told that it was changed back. */
  onUndone?: () => void;
}

/** Says how many records were changed, and offers to change them back right where it happened. */
export function ChangedNotice({ address, changed, onClose, onUndone }: ChangedNoticeProps) {
  const tell = useRecordsChanged();
  const undo = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/changes/undo", {
          params: { path: address },
          body: { entry: changed.entry },
        }),
      ),
    onSuccess: () => {
      onUndone?.();
      return tell(address.porch);
    },
  });
  const close = <Button onClick={onClose}>Close</Button>;
  if (undo.data)
    return (
      <Notice title={`${changed.label} is again what it was in ${formatRecords(undo.data.changed)}.`} actions={close}>
        {undo.data.notFound > 0 &&
          `${formatRecords(undo.data.notFound)} ${undo.data.notFound === 1 ? "was" : "were"} changed or removed since, and ${undo.data.notFound === 1 ? "stays as it is" : "stay as they are"}.`}
      </Notice>
    );
  return (
    <Notice
      title={`${changed.changed === 1 ? "1 record was changed" : `${formatCount(changed.changed)} records were changed`}.`}
      actions={
        <>
          {changed.changed > 0 && (
            <Button
              accessKey="b"
              title="Alt + B"
              disabled={undo.isPending}
              onClick={() => {
                undo.mutate();
              }}
            >
              {undo.isPending ? "Changing back …" : "Change back"}
            </Button>
          )}
          {close}
        </>
      }
    >
      {changed.notFound > 0 &&
        `${formatCount(changed.notFound)} ${changed.notFound === 1 ? "was" : "were"} not found any more. `}
      {undo.error?.message}
    </Notice>
  );
}
