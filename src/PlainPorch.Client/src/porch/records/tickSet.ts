import { bareOf } from "../../api/bare";
import type { Column, ListPage, Panel, Schemas } from "../../api/client";
import { fromInput, inputKind, toInput } from "../../values/input";

/** One side of a many-to-many set: a record that is ticked, or could be. */
export interface TickRow {
  /** The value that refers to it. */
  value: string;
  title: string;
  /** The row of the joining table; null where it is not ticked yet. */
  joined: { key: string; version: number; values: Record<string, string | null> } | null;
}

/** What was done with a row and is not saved: whether it is ticked, and the texts of the joining table's own columns. */
export interface TickTyping {
  isOn: boolean;
  typed: Record<string, string>;
}

/** The columns that the joining table has of its own, such as how many. */
export const ownColumns = (panel: Panel, column: string, through: string) =>
  panel.columns.filter(
    ({ name, inForm, isWritable, stamp }) =>
      inForm && isWritable && stamp === null && name !== column && name !== through,
  );

/** The rows that are ticked now. */
export function tickedRows(page: ListPage, through: string): TickRow[] {
  const place = page.columns.indexOf(through);
  return page.rows.flatMap((row) => {
    const value = row.values[place];
    if (typeof value !== "string" || row.key === null) return [];
    return [
      {
        value,
        title: page.lookups[through]?.[value]?.title ?? value,
        joined: {
          key: row.key,
          version: row.version ?? 0,
          values: bareOf(page.columns.map((name, i) => [name, row.values[i] ?? null] as const)),
        },
      },
    ];
  });
}

/** What an own column's input shows. */
export function shownIn(row: TickRow, typing: TickTyping | undefined, column: Column): string {
  const present = row.joined?.values[column.name] ?? null;
  return typing?.typed[column.name] ?? toInput(inputKind(column, present), present);
}

/** What is to be saved: rows that are ticked newly, rows whose own columns were changed, and rows that are no longer ticked. */
export function toSave(rows: TickRow[], typing: ReadonlyMap<string, TickTyping>, columns: Column[], through: string) {
  const added: Schemas["BelongingAddition"][] = [];
  const changed: Schemas["BelongingChangeRequest"][] = [];
  const removed: TickRow[] = [];
  for (const row of rows) {
    const done = typing.get(row.value);
    if (!done) continue;
    const values = bareOf(
      columns
        .filter((column) => {
          const present = row.joined?.values[column.name] ?? null;
          return shownIn(row, done, column) !== toInput(inputKind(column, present), present);
        })
        .map((column) => {
          const kind = inputKind(column, row.joined?.values[column.name] ?? null);
          return [column.name, fromInput(column, kind, shownIn(row, done, column))] as const;
        }),
    );
    if (done.isOn && row.joined === null)
      added.push({ values: bareOf([[through, row.value] as const, ...Object.entries(values)]) });
    else if (done.isOn && row.joined !== null && Object.keys(values).length > 0)
      changed.push({ key: row.joined.key, version: row.joined.version, values });
    else if (!done.isOn && row.joined !== null) removed.push(row);
  }
  return { added, changed, removed };
}
