import type { Schemas } from "../api/client";

export type NumberMarks = Schemas["NumberMarks"];

// What the whole page writes and reads numbers by, as a language is: a page shows one porch at a time.
let marks: NumberMarks = "commaPoint";

/** From now on, numbers are written and read as the people of a porch write them. */
export function writeNumbersAs(next: NumberMarks) {
  marks = next;
}

const thousands = { commaPoint: ",", pointComma: ".", spaceComma: "\u00a0" } as const;

function decimalMark(): string {
  return marks === "commaPoint" ? "." : ",";
}

/**
 * A number in its text form as people write it, digit for digit: a number type would round the long ones. What is no plain
 * decimal number, such as NaN, stays as it is.
 */
export function writeNumber(text: string, isGrouped = true): string {
  const match = /^(-?)(\d+)(?:\.(\d+))?$/.exec(text);
  if (!match) return text;
  const [, sign = "", whole = "", fraction] = match;
  const grouped = isGrouped ? whole.replace(/\B(?=(\d{3})+$)/g, thousands[marks]) : whole;
  return sign + grouped + (fraction === undefined ? "" : decimalMark() + fraction);
}

const withPoint = /^([-+]?)(\d+|\d{1,3}(?:[, '’\u202f\u00a0]\d{3})+)(?:\.(\d+))?$/;
const withComma = /^([-+]?)(\d+|\d{1,3}(?:[. '’\u202f\u00a0]\d{3})+)(?:,(\d+))?$/;

/**
 * A number as people write it, in the one text form: 1,258.22 and 1 258,22 are 1258.22. What the porch writes decides where two
 * readings make one (1.258 and 1,258); elsewhere the mark before the last digits is the decimal one. What is none stays as it is.
 */
export function readNumber(typed: string): string {
  const text = typed.trim().replace(/^\p{Sc}\s*|\s*\p{Sc}$/gu, "");
  const [own, other] = marks === "commaPoint" ? [withPoint, withComma] : [withComma, withPoint];
  const match = own.exec(text) ?? other.exec(text);
  if (!match) return text;
  const [, sign = "", whole = "", fraction] = match;
  return sign + whole.replace(/\D/g, "") + (fraction === undefined ? "" : `.${fraction}`);
}
