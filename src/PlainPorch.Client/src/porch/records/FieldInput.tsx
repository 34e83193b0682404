import type { RefObject } from "react";
import type { Column, LookupTitle, RecordView } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import type { FieldSlots } from "../../ui/Field";
import type { InputKind } from "../../values/input";
import { LookupInput } from "./LookupInput";
import type { Unsettled } from "./useLookup";
import { later } from "../../ui/later";
import { ValueInput } from "./ValueInput";

const Formatted = later("formatted input", async () => (await import("./FormattedInput")).FormattedInput);
const Files = later("files input", async () => (await import("./FilesInput")).FilesInput);
const File = later("file input", async () => (await import("./FileInput")).FileInput);

interface FieldInputProps extends FieldSlots {
  address: PanelAddress;
  column: Column;
  kind: InputKind;
  typed: string;
  /** The value as the record has it; null for none. */
  present: string | null;
  /** How the record is called that the present value refers to. */
  known: LookupTitle | undefined;
  isNew: boolean;
  /** The record; null or missing for a new one. */
  record?: RecordView | null;
  unsettled: RefObject<Unsettled>;
  /** The values of the record's other fields; missing where they are not at hand. */
  valueIn?: (column: string) => string | null;
  /** Whether it stands in a form, with room around it. */
  hasRoom?: boolean;
  onType: (typed: string) => void;
  /** Puts values into other columns that refer together with this one; missing where nobody can. */
  onOthers?: ((values: Record<string, string>) => void) | undefined;
}

/** The input that fits a column: of a lookup the record that it refers to is picked, of others the value is typed. */
export function FieldInput({
  address,
  known,
  unsettled,
  valueIn,
  hasRoom,
  record = null,
  onOthers,
  ...props
}: FieldInputProps) {
  const { column, typed, present, onType } = props;
  if (props.kind === "file" || props.kind === "files") {
    const Part = props.kind === "file" ? File.Part : Files.Part;
    return (
      <Part
        {...props}
        address={address}
        record={record?.key ?? null}
        version={record?.version ?? 0}
        onWait={(sent) => {
          if (sent) unsettled.current.set(column.name, sent);
          else unsettled.current.delete(column.name);
        }}
      />
    );
  }
  if (props.kind === "formatted" && column.isWritable) return <Formatted.Part {...props} />;
  if (!column.isLookup || !column.isWritable || (column.also.length > 0 && !onOthers))
    return <ValueInput {...props} address={address} />;
  return (
    <LookupInput
      id={props.id}
      aria-invalid={props["aria-invalid"]}
      aria-describedby={props["aria-describedby"]}
      aria-label={props["aria-label"]}
      address={address}
      column={column}
      value={typed}
      known={known}
      knownFor={present}
      unsettled={unsettled}
      valueIn={valueIn}
      stored={record?.values}
      hasRoom={hasRoom}
      onChoose={(value, others) => {
        onType(value);
        if (Object.keys(others).length > 0) onOthers?.(others);
      }}
    />
  );
}
