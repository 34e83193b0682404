import { useState } from "react";
import type { Column, RecordView } from "../../api/client";
import { bareOf } from "../../api/bare";
import { hiddenFields } from "./shownFields";
import { fromInput, inputKind, isOpen, toInput, type InputKind } from "../../values/input";

export interface RecordDraft {
  /** The record that the typing is based on; null for a new one. */
  base: RecordView | null;
  kindOf: (column: Column) => InputKind;
  typedOf: (column: Column) => string;
  /** The value of a column as it would be saved now; null for none. */
  valueIn: (column: string) => string | null;
  /** The names of the fields that are not shown now, as others have the values that they have. */
  hidden: ReadonlySet<string>;
  isChanged: (column: Column) => boolean;
  type: (column: Column, text: string) => void;
  /** Fills in fields that nobody typed into, and that were begun with nothing else. */
  begin: (values: Record<string, string | null>) => void;
  /** Takes back what was typed into a field. */
  untype: (column: Column) => void;
  /** The values that differ from the base. */
  changes: Record<string, string | null>;
  isDirty: boolean;
  /** The columns of these that were typed into, and not only begun with a value. */
  touched: string[];
  /** Goes on from another version of the record, keeping what was typed or not. */
  rebase: (record: RecordView, keepTyping: boolean) => void;
  /** What is typed now, by column. */
  typed: ReadonlyMap<string, string>;
  /** Goes on from the record as it was saved: of what was sent nothing counts as typed any more, unless it was typed over since. */
  settle: (record: RecordView, sent: ReadonlyMap<string, string>) => void;
}

/** What is being typed into a record's form. Only what was touched counts as typed. */
export function useRecordDraft(
  columns: Column[],
  record: RecordView | null,
  proposed: Record<string, string>,
  given: Record<string, string> = bareOf<string>([]),
  outOfSight: ReadonlySet<string> = new Set(),
): RecordDraft {
  const [base, setBase] = useState(record);
  const [typed, setTyped] = useState<ReadonlyMap<string, string>>(
    () =>
      new Map(
        columns
          .filter(({ name }) => given[name] !== undefined)
          .map((column) => [
            column.name,
            toInput(inputKind(column, given[column.name] ?? null), given[column.name] ?? null),
          ]),
      ),
  );

  const [touched, setTouched] = useState<ReadonlySet<string>>(new Set());
  const [begun, setBegun] = useState<ReadonlyMap<string, string>>(new Map());

  const presentOf = (column: Column) => base?.values[column.name] ?? proposed[column.name] ?? null;
  const kindOf = (column: Column) => inputKind(column, presentOf(column));
  const untouched = (column: Column) => toInput(kindOf(column), presentOf(column));
  const typedOf = (column: Column) => typed.get(column.name) ?? untouched(column);

  const isChanged = (column: Column) => isOpen(column) && typedOf(column) !== untouched(column);
  const valueIn = (name: string) => {
    const column = columns.find((one) => one.name === name);
    return column ? fromInput(column, kindOf(column), typedOf(column)) : (base?.values[name] ?? null);
  };
  const hidden = new Set([...hiddenFields(columns, valueIn), ...outOfSight]);

  // What is out of sight stays as it is stored, whatever was typed before it went.
  const changes = bareOf(
    columns
      .filter((column) => isChanged(column) && !hidden.has(column.name))
      .map((column) => [column.name, fromInput(column, kindOf(column), typedOf(column))] as const),
  );

  return {
    base,
    kindOf,
    typedOf,
    valueIn,
    hidden,
    isChanged,
    untype: ({ name }) => {
      setTyped((before) => new Map([...before].filter(([column]) => column !== name)));
      setTouched((before) => new Set([...before].filter((column) => column !== name)));
    },
    type: (column, text) => {
      setTyped((before) => new Map(before).set(column.name, text));
      setTouched((before) => (before.has(column.name) ? before : new Set(before).add(column.name)));
    },
    begin: (values) => {
      const news = columns
        .filter(({ name }) => name in values && !touched.has(name))
        .map((column) => [column, toInput(kindOf(column), values[column.name] ?? null)] as const)
        .filter(([column, text]) => {
          const now = typedOf(column);
          return now !== text && (now === "" || now === begun.get(column.name));
        })
        .map(([{ name }, text]) => [name, text] as const);
      if (news.length === 0) return;
      setTyped((before) => new Map([...before, ...news]));
      setBegun((before) => new Map([...before, ...news]));
    },
    changes,
    touched: Object.keys(changes).filter((name) => touched.has(name)),
    isDirty: Object.keys(changes).length > 0,
    typed,
    settle: (saved, sent) => {
      setBase(saved);
      // The database may have written it in another way.
      setTyped((before) => new Map([...before].filter(([name, text]) => sent.get(name) !== text)));
    },
    rebase: (current, keepTyping) => {
      setBase(current);
      if (!keepTyping) setTyped(new Map());
    },
  };
}
