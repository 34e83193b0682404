import { useMutation, useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { api, unwrap, type Panel } from "../../api/client";
import { numberingQuery, type PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { DialogFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { Field, inputClass } from "../../ui/Field";
import { Loading } from "../../ui/Loading";
import { formatCount } from "../../values/format";

interface NumberingDialogProps {
  address: PanelAddress;
  panel: Panel;
  onClose: () => void;
}

/** Numbers all records from an order that they have by something else, after showing what that gives. */
export function NumberingDialog({ address, panel, onClose }: NumberingDialogProps) {
  const [column, setColumn] = useState("");
  const [isFalling, setFalling] = useState(false);
  const by = column === "" ? [] : [(isFalling ? "-" : "") + encodeURIComponent(column)];
  const preview = useQuery(numberingQuery(address, by));
  const changed = useRecordsChanged();
  const number = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/order/numbering", {
          params: { path: address },
          body: { by, isPreview: false },
        }),
      ),
    onSuccess: () => {
      void changed(address.porch);
      onClose();
    },
  });
  return (
    <DialogFrame title={<>Number {panel.label}</>} onOpenChange={onClose}>
      <div className="mt-3 grid gap-3">
        <div className="grid items-end gap-3 sm:grid-cols-2">
          <Field label="In the order of">
            {(slots) => (
              <select
                {...slots}
                className={inputClass}
                value={column}
                onChange={(event) => {
                  setColumn(event.target.value);
                }}
              >
                <option value="">their current positions, then their key</option>
                {panel.columns
                  .filter((one) => one.isOrderable)
                  .map((one) => (
                    <option key={one.name} value={one.name}>
                      {one.label}
                    </option>
                  ))}
              </select>
            )}
          </Field>
          {column !== "" && (
            <label className="flex min-h-9 items-center gap-2">
              <input
                type="checkbox"
                className="size-5 accent-accent"
                checked={isFalling}
                onChange={() => {
                  setFalling(!isFalling);
                }}
              />
              falling
            </label>
          )}
        </div>
        {preview.isPending && <Loading what="the numbering" />}
        {preview.isError && <Failure error={preview.error} />}
        {preview.data && (
          <>
            <p>
              {formatCount(preview.data.changed)} of {formatCount(preview.data.records)} get a new position
              {preview.data.gap > 1 && `, ${formatCount(preview.data.gap)} apart, so that a move writes one record`}.
            </p>
            <ol className="list-decimal border-t border-line pt-2 pl-6">
              {preview.data.first.map((title, place) => (
                <li key={place}>{title}</li>
              ))}
            </ol>
          </>
        )}
        {number.isError && <Failure error={number.error} />}
        <div className="flex flex-wrap justify-end gap-2">
          <Dialog.Close asChild>
            <Button>Cancel</Button>
          </Dialog.Close>
          <Button
            tone="next"
            disabled={!preview.data || preview.data.changed === 0 || number.isPending}
            onClick={() => {
              number.mutate();
            }}
          >
            {number.isPending ? "Numbering …" : "Number them"}
          </Button>
        </div>
      </div>
    </DialogFrame>
  );
}
