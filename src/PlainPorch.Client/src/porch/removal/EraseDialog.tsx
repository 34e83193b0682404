import { useMutation } from "@tanstack/react-query";
import { AlertDialog } from "radix-ui";
import { useState } from "react";
import { api, unwrap, type Panel, type Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { CountField } from "../../ui/CountField";
import { QuestionFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { formatCount } from "../../values/format";
import { readCount } from "../../values/input";
import { someOf, isRemoved } from "./words";

interface EraseDialogProps {
  address: PanelAddress;
  panel: Panel;
  parcel: Schemas["ParcelSummary"];
  onClose: () => void;
}

/** Erases for good what was set aside, after the number of records was typed. */
export function EraseDialog({ address, panel, parcel, onClose }: EraseDialogProps) {
  const parts = parcel.parts.filter((part) => isRemoved(part.act));
  const count = parts.reduce((sum, part) => sum + part.count, 0);
  const [typed, setTyped] = useState("");
  const changed = useRecordsChanged();
  const erase = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/set-aside/{parcel}/erase", {
          params: { path: { ...address, parcel: parcel.id } },
          body: { typed: count },
        }),
      ),
    onSuccess: () => {
      void changed(address.porch);
      onClose();
    },
  });
  return (
    <AlertDialog.Root open onOpenChange={onClose}>
      <QuestionFrame
        title={
          <>
            Erase {panel.recordLabel} “{parcel.title}” for good?
          </>
        }
      >
        <AlertDialog.Description className="mt-2">
          It cannot be brought back, nor can the records removed with it.
        </AlertDialog.Description>
        <ul className="mt-3 border-t border-line">
          {parts.map((part) => (
            <li key={part.place} className="border-b border-line py-1.5">
              <strong className="font-semibold">{someOf(part.count, part.label)}</strong>
            </li>
          ))}
        </ul>
        <div className="mt-4 max-w-60">
          <CountField label={`Type ${formatCount(count)} to erase that many records`} value={typed} onType={setTyped} />
        </div>
        {erase.isError && <Failure error={erase.error} />}
        <div className="mt-5 flex flex-wrap justify-end gap-2">
          <AlertDialog.Cancel asChild>
            <Button>Cancel</Button>
          </AlertDialog.Cancel>
          <Button
            tone="danger"
            disabled={readCount(typed) !== count || erase.isPending}
            onClick={() => {
              erase.mutate();
            }}
          >
            {erase.isPending ? "Erasing …" : "Erase for good"}
          </Button>
        </div>
      </QuestionFrame>
    </AlertDialog.Root>
  );
}
