import type { Column } from "../api/client";
import { readArray } from "./format";

export type InputKind =
  | "line"
  | "paragraph"
  | "number"
  | "date"
  | "dateTime"
  | "moment"
  | "time"
  | "yesNo"
  | "choice"
  | "lines"
  | "json"
  | "shown";

const LONG_TEXT = 120;

/** Which input fits a column's values, given the present one. */
export function inputKind(column: Column, text: string | null): InputKind {
  if (column.kind === "binary") return "shown";
  switch (column.kind) {
    case "text":
      return isLong(column, text) ? "paragraph" : "line";
    case "smallInteger":
    case "integer":
    case "bigInteger":
    case "decimal":
    case "real":
    case "double":
      return "number";
    case "boolean":
      return "yesNo";
    case "enum":
      return "choice";
    case "json":
      return "json";
    case "date":
      return text === null || /^(?!0000)\d{4}-\d\d-\d\d$/.test(text) ? "date" : "line";
    case "dateTime":
      return text === null || /^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d)?$/.test(text) ? "dateTime" : "line";
    case "instant":
      return text === null || isShownByTheClock(text) ? "moment" : "line";
    case "time":
      return text === null || /^(?!24)\d\d:\d\d(:\d\d)?$/.test(text) ? "time" : "line";
    case "array":
      return text === null || isPlainArray(text) ? "lines" : "json";
    default:
      return "line";
  }
}

// The input shows whole seconds by the reader's clock, which is odd before 1900 and may be a year off at the calendar's ends.
function isShownByTheClock(moment: string): boolean {
  return /^(19|[2-8]\d)\d\d-\d\d-\d\dT\d\d:\d\d:\d\d(\.0+)?Z$/.test(moment);
}

function isLong(column: Column, text: string | null): boolean {
  return column.maxLength === null || column.maxLength > LONG_TEXT || (text?.includes("\n") ?? false);
}

/** Whether an array can be typed as one line for each item without losing anything. */
function isPlainArray(text: string): boolean {
  return readArray(text)?.every((item) => item !== null && item !== "" && !item.includes("\n")) ?? false;
}

/** What an input shows for a value. */
export function toInput(kind: InputKind, text: string | null): string {
  if (text === null) return "";
  if (kind === "moment") return toLocal(new Date(text));
  return kind === "lines" ? (readArray(text)?.join("\n") ?? text) : text;
}

/** The value that was typed: null where an emptied input means an empty value. */
export function fromInput(column: Column, kind: InputKind, typed: string): string | null {
  if (kind === "lines") {
    const items = typed.split("\n").filter((item) => item !== "");
    return items.length === 0 && column.isNullable ? null : JSON.stringify(items);
  }
  // NOT NULL texts of old programs hold "" where others hold null.
  if (typed === "") return column.kind === "text" && !column.isNullable ? "" : null;
  return kind === "moment" ? new Date(typed).toISOString() : typed;
}

// The input shows a moment by the reader's clock; what travels is UTC.
function toLocal(moment: Date): string {
  const shifted = new Date(moment.getTime() - moment.getTimezoneOffset() * 60_000);
  return shifted.toISOString().slice(0, 19);
}

/** The whole number that was typed, grouped or not: "12 430" and "12,430" are the same; null for anything else. */
export function readCount(text: string): number | null {
  const digits = text.replace(/[\s.,’'\u202f]/g, "");
  return /^\d{1,9}$/.test(digits) ? Number(digits) : null;
}
