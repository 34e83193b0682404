import type { RefObject } from "react";
import type { Column, LookupTitle } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import type { FieldSlots } from "../../ui/Field";
import type { InputKind } from "../../values/input";
import { LookupInput } from "./LookupInput";
import type { Unsettled } from "./useLookup";
import { ValueInput } from "./ValueInput";

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
  unsettled: RefObject<Unsettled>;
  /** The values of the record's other fields; missing where they are not at hand. */
  valueIn?: (column: string) => string | null;
  /** Whether it stands in a form, with room around it. */
  hasRoom?: boolean;
  onType: (typed: string) => void;
}

/** The input that fits a column: of a lookup the record that it refers to is picked, of others the value is typed. */
export function FieldInput({ address, known, unsettled, valueIn, hasRoom, ...props }: FieldInputProps) {
  const { column, typed, present, onType } = props;
  if (!column.isLookup || !column.isWritable) return <ValueInput {...props} address={address} />;
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
      hasRoom={hasRoom}
      onChoose={onType}
    />
  );
}
