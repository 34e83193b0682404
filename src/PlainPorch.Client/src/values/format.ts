import type { Column } from "../api/client";
import { toLocal, writeDay, writeMoment, writeMonth, writeTime } from "./dates";
import { writeNumber } from "./numbers";

/** A count as a person reads it. */
export function formatCount(count: number): string {
  return writeNumber(String(count));
}

/** So many records, in words. */
export function formatRecords(count: number): string {
  return count === 1 ? "1 record" : `${formatCount(count)} records`;
}

/** Whether values of a kind are numbers. */
export function isNumber(kind: Column["kind"]): boolean {
  return ["smallInteger", "integer", "bigInteger", "decimal", "real", "double"].includes(kind);
}

/** Whether a column lines up at the right: numbers do, the titles that lookups show do not. */
export function alignsRight(column: Pick<Column, "kind" | "isLookup">): boolean {
  return !column.isLookup && (isNumber(column.kind) || column.kind === "binary" || column.kind === "duration");
}

/** What an open end of a span of days is called. */
export const NO_END = "no end";

/** A value as a person reads it; "" for an empty one. */
export function formatValue(
  column: Pick<Column, "kind"> & Partial<Pick<Column, "look" | "isRead">>,
  text: string | null | undefined,
): string {
  if (text === null || text === undefined) return "";
  const look = column.look;
  if (look?.as === "amount" && look.unit && /^-?[\d.]+$/.test(text)) {
    const number = writeNumber(text, isNumber(column.kind));
    // £12.50 and 5%, but 12 m.
    const between = /^(%|\p{Sc})$/u.test(look.unit) ? "" : "\u00a0";
    if (look.unitFirst && number.startsWith("-")) return `-${look.unit}${between}${number.slice(1)}`;
    return look.unitFirst ? `${look.unit}${between}${number}` : `${number}${between}${look.unit}`;
  }
  switch (column.kind) {
    case "boolean":
      return text === "true" ? "Yes" : text === "false" ? "No" : text;
    case "date":
      if (text === "infinity" && column.isRead) return NO_END;
      return look?.as === "month" ? writeMonth(text) : writeDay(text);
    case "dateTime":
    case "instant":
      return formatMoment(text);
    case "time":
      return writeTime(text);
    case "decimal":
      return writeNumber(text);
    case "real":
    case "double":
      return writeNumber(text, false);
    case "array":
    case "several":
      return formatArray(text);
    case "binary":
      return /^\d+$/.test(text) ? formatSize(Number(text)) : "a file that was chosen";
    default:
      return text;
  }
}

/** A moment to the minute, one bound to no place by the reader's clock; what the calendar of figures does not hold stays as it is. */
export function formatMoment(text: string): string {
  const match = /^([1-9]\d{3}-\d\d-\d\dT\d\d:\d\d):\d\d(?:\.\d+)?(Z|\+00:00)?$/.exec(text);
  if (!match) return text;
  return writeMoment(match[2] ? toLocal(new Date(text)).slice(0, 16) : (match[1] ?? ""));
}

/** The day of a moment, by the reader's clock. */
export function formatDay(text: string): string {
  return writeDay(toLocal(new Date(text)).slice(0, 10));
}

function formatArray(text: string): string {
  const items = readArray(text);
  return items ? items.map((item) => item ?? "(empty)").join(", ") : text;
}

/** A number of bytes as a person reads it. */
export function formatSize(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`;
  if (bytes < 1_000_000) return `${writeNumber((bytes / 1000).toFixed(1))} kB`;
  return `${writeNumber((bytes / 1_000_000).toFixed(1))} MB`;
}

/** The items of an array's text; null where it has several dimensions or is none. */
export function readArray(text: string): (string | null)[] | null {
  try {
    const items: unknown = JSON.parse(text);
    return Array.isArray(items) && items.every((item) => item === null || typeof item === "string") ? items : null;
  } catch {
    return null;
  }
}
