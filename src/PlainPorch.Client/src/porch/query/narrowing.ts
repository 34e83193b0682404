import type { ListView } from "../../api/listView";

/** One value that a list is narrowed to, as it stands in the address: the column, and after a colon the value; without one the empty values. */
export function narrowingText(column: string, value: string | null): string {
  return value === null ? encodeURIComponent(column) : `${encodeURIComponent(column)}:${value}`;
}

/** The values of a column that a list is narrowed to; null stands for the empty ones. */
export function narrowedTo(view: ListView, column: string): (string | null)[] {
  const name = encodeURIComponent(column);
  return view.narrowed
    .filter((text) => text === name || text.startsWith(`${name}:`))
    .map((text) => (text === name ? null : text.slice(name.length + 1)));
}

/** The narrowings with a value taken in or out. */
export function toggled(view: ListView, column: string, value: string | null): string[] {
  const text = narrowingText(column, value);
  return view.narrowed.includes(text) ? view.narrowed.filter((known) => known !== text) : [...view.narrowed, text];
}

/** The narrowings without those of a column. */
export function without(view: ListView, column: string): string[] {
  const name = encodeURIComponent(column);
  return view.narrowed.filter((text) => text !== name && !text.startsWith(`${name}:`));
}

/** A range as it stands in the address after the colon. */
export function rangeText(from: string | null, until: string | null): string {
  return `${from ?? ""}..${until ?? ""}`;
}

/** The bounds of a range; null for a single value. */
export function readRange(value: string): { from: string | null; until: string | null } | null {
  const dots = value.indexOf("..");
  if (dots < 0) return null;
  return { from: value.slice(0, dots) || null, until: value.slice(dots + 2) || null };
}
