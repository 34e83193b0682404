import { bareOf } from "../api/bare";
import type { Column, ListPage, ListRow, LookupTitle } from "../api/client";

/**
 * What a record refers by in a lookup column: its value, or where several columns refer together the list of their values.
 *
 * @param valueIn The record's value in a column.
 * @returns The text; null where a value is missing, so that nothing is referred to.
 */
export function referring(column: Column, valueIn: (column: string) => string | null | undefined): string | null {
  const own = valueIn(column.name) ?? null;
  if (column.also.length === 0) return own;
  const values = [own, ...column.also.map(({ from }) => valueIn(from) ?? null)];
  return values.includes(null) ? null : JSON.stringify(values);
}

/** How the record is called that a row of a list refers to in a lookup column. */
export function titleIn(page: ListPage, row: ListRow, column: Column): LookupTitle | undefined {
  const key = referring(column, (name) => row.values[page.columns.indexOf(name)]);
  return key === null ? undefined : page.lookups[column.name]?.[key];
}

/** The values that a text of {@link referring} is made of, by column. */
export function referringValues(column: Column, text: string): Record<string, string> {
  if (column.also.length === 0) return bareOf([[column.name, text]]);
  try {
    const values = JSON.parse(text) as unknown[];
    return bareOf(
      [column.name, ...column.also.map(({ from }) => from)].flatMap((name, place) => {
        const value = values[place];
        return typeof value === "string" ? [[name, value] as const] : [];
      }),
    );
  } catch {
    return bareOf<string>([]);
  }
}
