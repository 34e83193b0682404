import type { Column } from "../api/client";
import {
  readDay,
  readMoment,
  readMonth,
  readTime,
  sayHowDaysAreTyped,
  toLocal,
  writeDay,
  writeMoment,
  writeMonth,
  writeTime,
} from "./dates";
import { NO_END, readArray } from "./format";
import { readNumber, writeNumber } from "./numbers";

export type InputKind =
  | "line"
  | "paragraph"
  | "number"
  | "decimal"
  | "date"
  | "month"
  | "dateTime"
  | "moment"
  | "time"
  | "yesNo"
  | "choice"
  | "segments"
  | "rating"
  | "colour"
  | "lines"
  | "checks"
  | "json"
  | "secret"
  | "formatted"
  | "file"
  | "files"
  | "shown";

const LONG_TEXT = 120;

/** Whether a form can change a column, by typing or by a file. */
export function isOpen(column: Column): boolean {
  return column.isWritable || Boolean(column.mostBytes);
}

/** Which input fits a column's values, given the present one. */
export function inputKind(column: Column, text: string | null): InputKind {
  if (column.holdsPaths) return column.mostBytes ? "files" : "shown";
  if (column.kind === "binary") return column.mostBytes ? "file" : "shown";
  if (column.isSecret) return "secret";
  if (column.input && isTypedBy(column, column.input, text)) return inputs[column.input];
  switch (column.kind) {
    case "text":
      if (column.look?.as === "json" || column.look?.as === "xml") return "json";
      return isLong(column, text) ? "paragraph" : "line";
    case "smallInteger":
    case "integer":
    case "bigInteger":
    case "real":
    case "double":
      return "number";
    case "decimal":
      return "decimal";
    case "boolean":
      return "yesNo";
    case "enum":
      return "choice";
    case "json":
      return "json";
    case "date":
      if (text !== null && !(text === "infinity" && column.isRead) && !/^[1-9]\d{3}-\d\d-\d\d$/.test(text))
        return "line";
      return column.look?.as === "month" ? "month" : "date";
    case "dateTime":
      return text === null || /^[1-9]\d{3}-\d\d-\d\dT\d\d:\d\d(:\d\d)?$/.test(text) ? "dateTime" : "line";
    case "instant":
      return text === null || isShownByTheClock(text) ? "moment" : "line";
    case "time":
      return text === null || /^(?!24)\d\d:\d\d(:\d\d)?$/.test(text) ? "time" : "line";
    case "several":
      if (column.enumValues.length > 0) return "checks";
      return text === null || isPlainArray(text) ? "lines" : "line";
    case "array":
      return text === null || isPlainArray(text) ? "lines" : "json";
    default:
      return "line";
  }
}

const inputs = {
  email: "line",
  telephone: "line",
  webAddress: "line",
  colour: "colour",
  rating: "rating",
  segments: "segments",
  paragraph: "paragraph",
  formatted: "formatted",
} as const satisfies Record<NonNullable<Column["input"]>, InputKind>;

// What an input could not show as it is stays text.
function isTypedBy(column: Column, input: NonNullable<Column["input"]>, text: string | null): boolean {
  switch (input) {
    case "rating":
      return text === null || /^[1-5]$/.test(text);
    case "segments":
      return column.kind === "boolean" || column.enumValues.length > 0;
    case "colour":
      return text === null || /^#?[0-9a-f]{6}$/i.test(text.trim());
    default:
      return input === "paragraph" || input === "formatted" || !(text?.includes("\n") ?? false);
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
  switch (kind) {
    case "date":
      return text === "infinity" ? NO_END : writeDay(text);
    case "month":
      return writeMonth(text);
    case "dateTime":
      return writeMoment(text);
    case "moment":
      return writeMoment(toLocal(new Date(text)));
    case "time":
      return writeTime(text);
    case "decimal":
      return writeNumber(text);
    case "number":
      return writeNumber(text, false);
    case "lines":
      return readArray(text)?.join("\n") ?? text;
    default:
      return text;
  }
}

/**
 * Reads what was typed into an input of dates, times or numbers, as people write them.
 *
 * @returns The value in the one text form; null where it is none; undefined where inputs of the kind take any text.
 */
export function readTyped(kind: InputKind, typed: string): string | null | undefined {
  switch (kind) {
    case "date":
      return /^(no end|infinity)$/i.test(typed.trim()) ? "infinity" : readDay(typed);
    case "month":
      return readMonth(typed);
    case "dateTime":
      return readMoment(typed);
    case "moment": {
      const local = readMoment(typed);
      return local && new Date(local).toISOString();
    }
    case "time":
      return readTime(typed);
    case "colour":
      return /^#?[0-9a-f]{6}$/i.test(typed.trim()) ? typed.trim() : null;
    default:
      return undefined;
  }
}

/** What a calendar is opened at; "" where nothing that it knows was typed. */
export function toPicker(kind: InputKind, typed: string): string {
  const local = kind === "moment" ? readMoment(typed) : readTyped(kind, typed);
  return local?.slice(0, 19) ?? "";
}

/** What an input shows for a choice in a calendar. */
export function fromPicker(kind: InputKind, chosen: string): string {
  return kind === "date"
    ? writeDay(chosen)
    : kind === "time"
      ? writeTime(chosen)
      : writeMoment(`${chosen}:00`.slice(0, 19));
}

/** Says what is wrong with a typed text that {@link readTyped} does not understand, and what to do. */
export function sayUnreadable(kind: InputKind, isNew = false): string {
  const still = isNew ? "" : "The stored value is unchanged.";
  if (kind === "colour")
    return `This is not a colour. Type six hexadecimal digits, such as #2f6f8f. ${still}`.trimEnd();
  if (kind === "time") return `This is not a time of day. Type it as hour:minute, such as 14:30. ${still}`.trimEnd();
  if (kind === "month") return `There is no such month. Type it as month/year, such as 10/2026. ${still}`.trimEnd();
  if (kind === "date") return `There is no such date. Type it as ${sayHowDaysAreTyped()}. ${still}`.trimEnd();
  return `There is no such date and time. Type it as ${sayHowDaysAreTyped()}, and hour:minute. ${still}`.trimEnd();
}

/** The value that was typed: null where an emptied input means an empty value. */
export function fromInput(column: Column, kind: InputKind, typed: string): string | null {
  if (kind === "lines") {
    const items = typed.split("\n").filter((item) => item !== "");
    return items.length === 0 && column.isNullable ? null : JSON.stringify(items);
  }
  if (kind === "checks") return typed === "" || (typed === "[]" && column.isNullable) ? null : typed;
  // NOT NULL texts of old programs hold "" where others hold null.
  if (typed === "") return column.kind === "text" && !column.isNullable ? "" : null;
  // What is no date stays as it was typed: the form says so before it is sent, and the server would as well.
  if (kind === "number" || kind === "decimal") return readNumber(withoutUnit(column, typed));
  return readTyped(kind, typed) ?? typed;
}

/** A number without the unit that stands beside it where it is shown: “12 m” is typed as well as “12”. */
function withoutUnit(column: Column, typed: string): string {
  const unit = column.look?.unit;
  const text = typed.trim();
  if (!unit) return text;
  return text.endsWith(unit) ? text.slice(0, -unit.length) : text.startsWith(unit) ? text.slice(unit.length) : text;
}

/** The whole number that was typed, grouped or not: "12 430" and "12,430" are the same; null for anything else. */
export function readCount(text: string): number | null {
  const digits = text.replace(/[\s.,’'\u202f]/g, "");
  return /^\d{1,9}$/.test(digits) ? Number(digits) : null;
}
