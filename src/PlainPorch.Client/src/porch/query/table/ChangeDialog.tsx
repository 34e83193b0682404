import { useMutation } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useRef, useState } from "react";
import { api, unwrap, type Column, type Panel } from "../../../api/client";
import { ApiError } from "../../../api/problems";
import type { PanelAddress } from "../../../api/queries";
import { useRecordsChanged } from "../../../api/recordsChanged";
import { Button } from "../../../ui/Button";
import { DialogFrame } from "../../../ui/DialogFrame";
import { Failure } from "../../../ui/Failure";
import { Field, inputClass } from "../../../ui/Field";
import { bareOf } from "../../../api/bare";
import { fromInput, inputKind } from "../../../values/input";
import { unreadableIn } from "../../../values/unreadable";
import { FieldInput } from "../../records/FieldInput";
import type { Unsettled } from "../../records/useLookup";
import type { Changed } from "./ChangedNotice";
import { inputHint } from "../../records/ValueInput";
import { formatCount } from "../../../values/format";

interface ChangeDialogProps {
  address: PanelAddress;
  panel: Panel;
  keys: string[];
  onClose: () => void;
  onChanged: (changed: Changed) => void;
}

/** Gives one field the same value in all chosen records, or in none of them. */
export function ChangeDialog({ address, panel, keys, onClose, onChanged }: ChangeDialogProps) {
  const columns = panel.columns.filter(
    (column) =>
      column.isWritable &&
      column.kind !== "binary" &&
      column.also.length === 0 &&
      !panel.identity.includes(column.name),
  );
  const [name, setName] = useState("");
  const [typed, setTyped] = useState("");
  const latest = useRef("");
  const field = useRef<HTMLDivElement>(null);
  const unsettled = useRef<Unsettled>(new Map());
  const column = columns.find((one) => one.name === name);
  const changed = useRecordsChanged();
  const change = useMutation({
    mutationFn: async (changed: Column) => {
      for (const settle of [...unsettled.current.values()])
        if (!(await settle())) throw new Error("Select a record first.");
      const [unreadable] = unreadableIn(field.current).values();
      if (unreadable) throw new Error(unreadable);
      return unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/changes", {
          params: { path: address },
          body: {
            keys,
            values: bareOf([[changed.name, fromInput(changed, inputKind(changed, null), latest.current)]]),
          },
        }),
      );
    },
    onSuccess: (done) => {
      void changed(address.porch);
      onClose();
      onChanged({ ...done, label: column?.label ?? name });
    },
  });
  const atField = change.error instanceof ApiError && column ? change.error.fields[column.name] : undefined;
  const type = (value: string) => {
    latest.current = value;
    setTyped(value);
  };
  const records = keys.length === 1 ? `1 ${panel.recordLabel}` : `${formatCount(keys.length)} records`;
  return (
    <DialogFrame title={<>Change a field in {records}</>} onOpenChange={onClose}>
      <form
        className="mt-4 grid gap-4"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          if (column && !change.isPending) change.mutate(column);
        }}
      >
        <Field label="Field">
          {(slots) => (
            <select
              {...slots}
              className={inputClass}
              value={name}
              onChange={(event) => {
                setName(event.target.value);
                type("");
                change.reset();
              }}
            >
              <option value="">Choose one</option>
              {columns.map((one) => (
                <option key={one.name} value={one.name}>
                  {one.label}
                </option>
              ))}
            </select>
          )}
        </Field>
        {column && (
          <div ref={field} key={column.name}>
            <Field
              label={`New ${column.label}`}
              error={atField}
              hint={
                inputHint(column, inputKind(column, null), false) ??
                (typed === "" ? "Leave it blank to clear the field." : undefined)
              }
            >
              {(slots) => (
                <FieldInput
                  {...slots}
                  address={address}
                  column={column}
                  kind={inputKind(column, null)}
                  typed={typed}
                  present={null}
                  known={undefined}
                  isNew={false}
                  unsettled={unsettled}
                  onType={type}
                />
              )}
            </Field>
          </div>
        )}
        {change.isError && !atField && <Failure error={change.error} />}
        <div className="flex flex-wrap justify-end gap-2">
          <Dialog.Close asChild>
            <Button>Cancel</Button>
          </Dialog.Close>
          <Button tone="next" type="submit" disabled={!column || change.isPending}>
            {change.isPending ? "Changing …" : `Change ${records}`}
          </Button>
        </div>
      </form>
    </DialogFrame>
  );
}
