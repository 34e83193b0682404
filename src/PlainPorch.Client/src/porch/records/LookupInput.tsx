import { bareOf } from "../../api/bare";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Column } from "../../api/client";
import { beforeQuery, choicesQuery, type PanelAddress } from "../../api/queries";
import type { FieldSlots } from "../../ui/Field";
import { Combobox } from "./Combobox";
import { chosenLately, rememberChosen } from "./lately";
import { sameValue, type LookupOptions } from "./useLookup";

interface LookupInputProps extends FieldSlots, Pick<LookupOptions, "value" | "known" | "knownFor" | "unsettled"> {
  address: PanelAddress;
  column: Column;
  /** The values of the record's other fields, where they are known. */
  valueIn?: ((column: string) => string | null) | undefined;
  /** What the record has stored in its columns. */
  stored?: Record<string, string | null> | undefined;
  /** Whether there is room for what is chosen beforehand, and for the way to the record. */
  hasRoom?: boolean | undefined;
  /** Called with the value, and what goes into other columns that refer together with it. */
  onChoose: (value: string, others: Record<string, string>) => void;
}

/** Picks the record that a column refers to, among those that fit what the record's other fields say. */
export function LookupInput({
  address,
  column,
  valueIn,
  stored,
  hasRoom = false,
  onChoose,
  ...props
}: LookupInputProps) {
  const { value, known, knownFor, unsettled, ...slots } = props;
  const [lately] = useState(() => chosenLately(address.porch, address.panel, column.name));
  const [chosenBefore, setChosenBefore] = useState<Record<string, string>>({});
  const before = hasRoom ? column.within.filter(({ from }) => from === null) : [];
  const own = column.within.flatMap(({ column: of, label, from }) => {
    const text = from === null ? "" : (valueIn?.(from) ?? "");
    return text === "" ? [] : [{ of, label, text }];
  });
  const ofOthers = Object.fromEntries(own.map(({ of, text }) => [of, text]));
  const within = {
    ...ofOthers,
    ...Object.fromEntries(Object.entries(chosenBefore).filter(([, text]) => text !== "")),
  };
  const others = bareOf(column.also.map(({ from }) => [from, valueIn?.(from) ?? null] as const));
  const together = bareOf(
    column.also.flatMap(({ column: of, from }) => {
      const text = others[from] ?? "";
      return text === "" ? [] : [[of, text] as const];
    }),
  );
  const main = (
    <Combobox
      {...slots}
      porch={address.porch}
      placeholder={column.isNullable ? "none" : undefined}
      lookup={{
        column,
        value,
        known,
        knownFor,
        unsettled,
        others,
        ...(stored && { knownOthers: bareOf(column.also.map(({ from }) => [from, stored[from] ?? null] as const)) }),
        askFor: (text) => choicesQuery(address, column.name, text, { within: { ...within, ...together } }),
        ask: (text) =>
          choicesQuery(address, column.name, text, {
            ...(Object.keys(within).length > 0 && { within }),
            ...(text === "" && lately.length > 0 && { first: lately }),
          }),
        onChoose: (chosen, others) => {
          if (chosen !== "") rememberChosen(address.porch, address.panel, column.name, chosen);
          onChoose(chosen, others);
        },
      }}
      leadsThere={hasRoom}
      below={
        hasRoom &&
        own.length > 0 &&
        column.also.length === 0 &&
        value !== "" && (
          <Fit address={address} column={column} value={value} within={ofOthers} by={own.map(({ label }) => label)} />
        )
      }
    />
  );
  if (before.length === 0) return main;
  return (
    <div className="grid gap-x-8 gap-y-2 sm:grid-cols-[repeat(auto-fit,minmax(8rem,1fr))]">
      {before.map(({ column: of, label }) => (
        <Combobox
          key={of}
          id={`${slots.id}-${of}`}
          aria-invalid={undefined}
          aria-describedby={undefined}
          aria-label={`${label}, to offer fewer for ${column.label}`}
          porch={address.porch}
          placeholder={`any ${label.toLowerCase()}`}
          lookup={{
            column,
            name: `${column.name} by ${of}`,
            value: chosenBefore[of] ?? "",
            known: undefined,
            knownFor: null,
            unsettled,
            canAdd: false,
            ask: (text) => beforeQuery(address, column.name, of, text),
            onChoose: (chosen) => {
              setChosenBefore((all) => ({ ...all, [of]: chosen }));
            },
          }}
        />
      ))}
      {main}
    </div>
  );
}

interface FitProps {
  address: PanelAddress;
  column: Column;
  value: string;
  within: Record<string, string>;
  by: string[];
}

/** Says where the chosen record is none of those that the other fields leave. */
function Fit({ address, column, value, within, by }: FitProps) {
  const found = useQuery(choicesQuery(address, column.name, value, { within }));
  const isUnfit =
    found.isSuccess && !found.isPlaceholderData && !found.data.choices.some((choice) => sameValue(choice.value, value));
  return isUnfit ? (
    <p role="status" className="mt-1 text-sm font-medium text-danger">
      This does not fit {by.join(" and ").toLowerCase()} any more. Choose another, or correct the other field.
    </p>
  ) : null;
}
