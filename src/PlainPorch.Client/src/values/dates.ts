import type { Schemas } from "../api/client";

export type DateOrder = Schemas["DateOrder"];

// What the whole page writes and reads dates by, as a language is: a page shows one porch at a time.
let order: DateOrder = "dayMonthYear";

/** From now on, dates are written and read as the people of a porch write them. */
export function writeDatesAs(next: DateOrder) {
  order = next;
}

/** Years of two figures mean those from eighty years ago on. */
const PAST_YEARS = 80;

const months = "january february march april may june july august september october november december".split(" ");

/** A day in figures; what the calendar from 1000 to 9999 does not hold stays as it is. */
export function writeDay(iso: string): string {
  const match = /^([1-9]\d{3})-(\d\d)-(\d\d)$/.exec(iso);
  if (!match) return iso;
  const [, year = "", month = "", day = ""] = match;
  return order === "dayMonthYear" ? `${day}/${month}/${year}` : `${month}/${day}/${year}`;
}

/** A month, told by any day of it. */
export function writeMonth(iso: string): string {
  const match = /^([1-9]\d{3})-(\d\d)-\d\d$/.exec(iso);
  return match ? `${match[2] ?? ""}/${match[1] ?? ""}` : iso;
}

/** Reads a month as people write it: 10/2011, 2011-10, October 2011, or a day of it. The first day; null where it is none. */
export function readMonth(text: string, today = new Date()): string | null {
  const typed = text.trim().toLowerCase();
  const yearFirst = /^(\d{4})[-/. ]?(\d\d?)$/.exec(typed);
  if (yearFirst) return isoOf(Number(yearFirst[1]), Number(yearFirst[2]), 1);
  const monthFirst = /^(\d\d?)[-/. ](\d{4})$/.exec(typed);
  if (monthFirst) return isoOf(Number(monthFirst[2]), Number(monthFirst[1]), 1);
  const named = /^(\p{L}{3,})\.?\s+(\d{4}|\d\d)$/u.exec(typed);
  if (named) {
    const month = months.findIndex((name) => name.startsWith(named[1] ?? "")) + 1;
    return month === 0 ? null : isoOf(yearOf(named[2], today), month, 1);
  }
  const day = readDay(typed, today);
  return day && `${day.slice(0, 8)}01`;
}

/** A day with a time, both by one clock: seconds only where there are any. */
export function writeMoment(iso: string): string {
  const [day = "", time] = iso.split("T");
  return time === undefined ? writeDay(day) : `${writeDay(day)} ${writeTime(time)}`;
}

/** A time of day: seconds only where there are any. */
export function writeTime(time: string): string {
  return time.replace(/^(\d\d:\d\d):00(\.0+)?$/, "$1");
}

/** How a day is to be typed, in words and by example. */
export function sayHowDaysAreTyped(): string {
  return `${order === "dayMonthYear" ? "day/month/year" : "month/day/year"}, such as ${writeDay("2026-03-31")}`;
}

/**
 * Reads a day as people write it: 31/3/2026, 31.3.26, 310326, 31 March 2026, 31/3 of this year, 2026-03-31, today.
 *
 * @returns The day as YYYY-MM-DD; null where it is none of the calendar.
 */
export function readDay(text: string, today = new Date()): string | null {
  const typed = text.trim().toLowerCase();
  if (typed === "today") return isoOf(today.getFullYear(), today.getMonth() + 1, today.getDate());
  const iso = /^(\d{4})[-/. ](\d{1,2})[-/. ](\d{1,2})$/.exec(typed);
  if (iso) return isoOf(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const figures =
    /^(\d{1,2})[-/. ](\d{1,2})(?:[-/. ](\d{4}|\d\d))?\.?$/.exec(typed) ?? /^(\d\d)(\d\d)(\d{4}|\d\d)$/.exec(typed);
  if (figures) {
    const year = yearOf(figures[3], today);
    const [first, second] = [Number(figures[1]), Number(figures[2])];
    const [day, month] = order === "dayMonthYear" ? [first, second] : [second, first];
    // Where only one reading makes a date, that one is meant, whatever the order.
    return isoOf(year, month, day) ?? isoOf(year, day, month);
  }
  const words =
    /^(?<day>\d{1,2})\.?\s+(?<month>\p{L}{3,})\.?(?:\s+(?<year>\d{4}|\d\d))?$/u.exec(typed) ??
    /^(?<month>\p{L}{3,})\.?\s+(?<day>\d{1,2}),?(?:\s+(?<year>\d{4}|\d\d))?$/u.exec(typed);
  const named = words?.groups;
  if (!named) return null;
  const month = months.findIndex((name) => name.startsWith(named.month ?? "")) + 1;
  return month === 0 ? null : isoOf(yearOf(named.year, today), month, Number(named.day));
}

/** Reads a time of day as people write it: 14:30, 14.30, 1430, 2:30 pm. Null where it is none. */
export function readTime(text: string): string | null {
  const match = /^(\d{1,2})(?:[:.]?(\d\d)(?:[:.](\d\d)(\.\d{1,6})?)?)?\s*(am|pm)?$/i.exec(text.trim());
  if (!match || (match[2] === undefined && match[5] === undefined)) return null;
  const half = match[5]?.toLowerCase();
  const typed = Number(match[1]);
  if (half !== undefined && (typed < 1 || typed > 12)) return null;
  const hour = half === undefined ? typed : (typed % 12) + (half === "pm" ? 12 : 0);
  const [minute, second] = [Number(match[2] ?? 0), Number(match[3] ?? 0)];
  if (hour > 23 || minute > 59 || second > 59) return null;
  return `${two(hour)}:${two(minute)}:${two(second)}${match[4] ?? ""}`;
}

/** Reads a day with a time after it; a day alone is its beginning. Null where it is neither. */
export function readMoment(text: string, today = new Date()): string | null {
  const day = readDay(text, today);
  if (day !== null) return `${day}T00:00:00`;
  const match = /^(.+?)[\sT,]+(\d{1,2}[:.]?\d\d\S*(?:\s*[ap]m)?|\d{1,2}\s*[ap]m)$/i.exec(text.trim());
  const [date, time] = [match && readDay(match[1] ?? "", today), match && readTime(match[2] ?? "")];
  return date && time ? `${date}T${time}` : null;
}

/** A moment by the reader's clock, to the second: 2026-03-31T14:30:05. */
export function toLocal(moment: Date): string {
  const shifted = new Date(moment.getTime() - moment.getTimezoneOffset() * 60_000);
  return shifted.toISOString().slice(0, 19);
}

function yearOf(figures: string | undefined, today: Date): number {
  const now = today.getFullYear();
  if (figures === undefined) return now;
  if (figures.length === 4) return Number(figures);
  const least = now - PAST_YEARS;
  return least + ((((Number(figures) - least) % 100) + 100) % 100);
}

function isoOf(year: number, month: number, day: number): string | null {
  const made = new Date(Date.UTC(2000, 0, 1));
  made.setUTCFullYear(year, month - 1, day);
  const isDay = year >= 1 && month >= 1 && month <= 12 && made.getUTCMonth() === month - 1 && made.getUTCDate() === day;
  return isDay ? `${String(year).padStart(4, "0")}-${two(month)}-${two(day)}` : null;
}

function two(figure: number): string {
  return String(figure).padStart(2, "0");
}
