import type { Column } from "../api/client";

const dateFormat = new Intl.DateTimeFormat(undefined, { dateStyle: "medium" });
const dateTimeFormat = new Intl.DateTimeFormat(undefined, { dateStyle: "medium", timeStyle: "short" });

const wholeFormat = new Intl.NumberFormat();

/** A count as a person reads it. */
export function formatCount(count: number): string {
  return wholeFormat.format(count);
}

/** Whether values of a kind are numbers. */
export function isNumber(kind: Column["kind"]): boolean {
  return ["smallInteger", "integer", "bigInteger", "decimal", "real", "double"].includes(kind);
}

/** Whether a column lines up at the right: numbers do, the titles that lookups show do not. */
export function alignsRight(column: Pick<Column, "kind" | "isLookup">): boolean {
  return !column.isLookup && (isNumber(column.kind) || column.kind === "binary");
}

/** A value as a person reads it; "" for an empty one. */
export function formatValue(column: Pick<Column, "kind">, text: string | null | undefined): string {
  if (text === null || text === undefined) return "";
  switch (column.kind) {
    case "boolean":
      return text === "true" ? "Yes" : "No";
    case "date":
      return formatDate(text);
    case "dateTime":
    case "instant":
      return formatMoment(text);
    case "time":
      return text.replace(/:00$/, "");
    case "decimal":
      return formatDecimal(text);
    case "array":
      return formatArray(text);
    case "binary":
      return formatSize(Number(text));
    default:
      return text;
  }
}

function formatDate(text: string): string {
  // What the calendar of the browser cannot hold (infinity, years of five digits) is shown as it is, and so are years that it
  // would take for ours: 44 for 1944.
  const match = /^(?!00)(\d{4})-(\d\d)-(\d\d)$/.exec(text);
  return match ? dateFormat.format(new Date(Number(match[1]), Number(match[2]) - 1, Number(match[3]))) : text;
}

function formatMoment(text: string): string {
  if (!/^(?!00)\d{4}-\d\d-\d\dT[\d:.]+Z?$/.test(text)) return text;
  const moment = new Date(text);
  return Number.isNaN(moment.getTime()) ? text : dateTimeFormat.format(moment);
}

/** A number in its text form as a person reads it; "" for none. */
export function formatNumber(text: string | null): string {
  return text === null ? "" : formatDecimal(text);
}

// Grouped by hand, digit for digit: a number type would round the long ones.
function formatDecimal(text: string): string {
  const match = /^(-?)(\d+)(\.\d+)?$/.exec(text);
  if (!match) return text;
  const [, sign = "", whole = "", fraction = ""] = match;
  return `${sign}${whole.replace(/\B(?=(\d{3})+$)/g, "\u202f")}${fraction}`;
}

function formatArray(text: string): string {
  const items = readArray(text);
  return items ? items.map((item) => item ?? "(empty)").join(", ") : text;
}

/** A number of bytes as a person reads it. */
export function formatSize(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`;
  if (bytes < 1_000_000) return `${(bytes / 1000).toFixed(1)} kB`;
  return `${(bytes / 1_000_000).toFixed(1)} MB`;
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
