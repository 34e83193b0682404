import type { Column, ListPage, ListRow, Panel } from "../../../api/client";
import { isNumber } from "../../../values/format";
import type { ListView } from "../../../api/listView";

/** The columns that a list shows, in order: the chosen ones, or else the panel's own. */
export function shownColumns(panel: Panel, view: ListView): Column[] {
  const chosen = view.columns.flatMap((name) => panel.columns.find((column) => column.name === name) ?? []);
  return chosen.length > 0 ? chosen : panel.columns.filter((column) => column.inList);
}

/** Those of the shown columns that a page has brought: just after a change it may still be the page before. */
export function columnsOf(page: ListPage, panel: Panel, view: ListView): Column[] {
  return shownColumns(panel, view).filter((column) => page.columns.includes(column.name));
}

/** The text of a row's value in a column; null where it is empty. */
export function textOf(page: ListPage, row: ListRow, column: Column): string | null {
  return row.values[page.columns.indexOf(column.name)] ?? null;
}

/** Whether a row's value does not fit what the column means, and so stands there as it is stored. */
export function isUnfit(page: ListPage, row: ListRow, column: Column): boolean {
  return row.unfit?.includes(page.columns.indexOf(column.name)) ?? false;
}

/** Names as they go into the address: none where they are just the panel's own. */
export function columnsText(panel: Panel, names: string[]): string[] {
  const own = panel.columns.filter((column) => column.inList).map((column) => column.name);
  return names.length === own.length && names.every((name, place) => name === own[place]) ? [] : names;
}

/** Puts one thing at the place of another. */
export function moved<T>(items: T[], from: number, to: number): T[] {
  const item = items[from];
  if (item === undefined || to < 0 || to >= items.length) return items;
  const rest = items.filter((_, place) => place !== from);
  return [...rest.slice(0, to), item, ...rest.slice(to)];
}

/** Whether a column's values add up to something. */
export function addsUp(panel: Panel, column: Column): boolean {
  return isNumber(column.kind) && !column.isLookup && !panel.identity.includes(column.name);
}

/** Whether a cell of the column can be changed in the list. */
export function isEditable(panel: Panel, column: Column): boolean {
  // What refers together with others is chosen where these are.
  return panel.editsInList && column.isWritable && column.kind !== "binary" && column.also.length === 0;
}
