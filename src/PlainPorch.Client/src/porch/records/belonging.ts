import { bareOf } from "../../api/bare";
import type { Column, Panel, Schemas } from "../../api/client";
import { fromInput, inputKind, readTyped, sayUnreadable } from "../../values/input";

export type Typed = Schemas["TypedDto"];

/** What a part of a form that stands for another panel's records has to say when the form is saved. */
export interface FormPart {
  /** Makes chosen records of typed texts; tells whether all of them mean one. */
  settle: () => Promise<boolean>;
  /** What is to be saved with the record; null for nothing, "wrong" where something typed is no value. */
  read: () => Schemas["BelongingRequest"] | "wrong" | null;
  /** What was typed is saved, or nobody wants it. */
  drop: () => void;
}

export type FormParts = Map<string, FormPart>;

/** A new record that is being typed as a line of another's form. */
export interface PartLine {
  id: string;
  typed: Record<string, string>;
}

export const nameOf = ({ panel, column }: Typed) => `${panel}.${column}`;

export const isBlank = (line: PartLine) => Object.values(line.typed).every((text) => text.trim() === "");

/** The columns that are typed there: not the one that refers to the record, nor what is numbered by itself. */
export const columnsOf = (panel: Panel, { column }: Typed, numbered: string | null) =>
  panel.columns.filter(
    ({ inForm, isWritable, stamp, name }) =>
      inForm && isWritable && stamp === null && name !== column && name !== numbered,
  );

/** The values of a line, and what of it is no value. */
export function readLine(columns: Column[], line: PartLine) {
  const [values, errors]: [[string, string | null][], [string, string][]] = [[], []];
  for (const column of columns) {
    const text = line.typed[column.name] ?? "";
    if (text.trim() === "") continue;
    const kind = inputKind(column, null);
    if (readTyped(kind, text) === null) errors.push([column.name, sayUnreadable(kind, true)]);
    else values.push([column.name, fromInput(column, kind, text)]);
  }
  return { values: bareOf(values), errors: bareOf(errors) };
}

/** What was refused at one line, by column; "" for all of it. */
export function refusedAt(refused: Record<string, string>, name: string, place: string): Record<string, string> {
  const start = `${name}.${place}`;
  return bareOf(
    Object.entries(refused)
      .filter(([field]) => field === start || field.startsWith(`${start}.`))
      .map(([field, message]) => [field.slice(start.length + 1), message] as const),
  );
}
