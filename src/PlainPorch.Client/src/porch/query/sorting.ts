import type { OrderPart } from "./OrderEditor";

/** One part of an order as it travels: "-" for descending, the column percent-encoded, and what else after colons. */
export function sortText(column: string, descending: boolean): string {
  return (descending ? "-" : "") + nameText(column);
}

// A column that begins with "-" would be taken for descending.
function nameText(column: string): string {
  return encodeURIComponent(column).replace(/^-/, "%2D");
}

/** The place of a column in an order, and its direction; null where it takes no part. */
export function sortedBy(sort: string[], column: string): { place: number; descending: boolean } | null {
  const name = nameText(column);
  for (const [place, text] of sort.entries()) {
    const bare = text.replace(/^-/, "").split(":")[0];
    if (bare === name || bare === column) return { place, descending: text.startsWith("-") };
  }
  return null;
}

/** The order after a column's head was pressed: up, down, not at all; beside the others where one asks for that. */
export function pressed(sort: string[], column: string, beside: boolean): string[] {
  const now = sortedBy(sort, column);
  const next = now === null ? [sortText(column, false)] : now.descending ? [] : [sortText(column, true)];
  if (!beside) return next;
  const others = sort.filter((_, place) => place !== now?.place);
  return now === null ? [...others, ...next] : sort.flatMap((text, place) => (place === now.place ? next : [text]));
}

/** A part of an order, out of how it travels. */
export function readSort(text: string): OrderPart {
  const [name = "", ...words] = text.replace(/^-/, "").split(":");
  return {
    column: decodeURIComponent(name),
    descending: text.startsWith("-"),
    natural: words.includes("natural"),
    emptyFirst: words.includes("emptyfirst"),
  };
}

/** A part of an order as it travels. */
export function writeSort({ column, descending, natural, emptyFirst }: OrderPart): string {
  return sortText(column, descending) + (natural ? ":natural" : "") + (emptyFirst ? ":emptyfirst" : "");
}
