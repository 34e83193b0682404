import type { PanelColumn } from "../../api/client";

const LENGTH = 60;

/** The name of a computed column in expressions, made of its label; none that is there already. */
export function computedName(label: string, others: string[]): string {
  const words = label
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, "_")
    .replace(/^_+|_+$/g, "")
    .slice(0, LENGTH);
  const name = /^\p{L}/u.test(words) ? words : `computed_${words}`.replace(/_$/, "");
  for (let number = 1; ; number++) {
    const tried = number === 1 ? name : `${name}_${number}`;
    if (!others.some((other) => other.toLowerCase() === tried)) return tried;
  }
}

/** Whether a panel computes a column, by an expression or by code. */
export const isComputed = ({ expression, byCode }: PanelColumn): boolean =>
  byCode === true || (expression !== null && expression !== undefined);

/** What people read for a column that code computes, made of its name. */
export function labelOf(name: string): string {
  const words = name
    .replace(/(\p{Ll})(\p{Lu})/gu, "$1 $2")
    .replace(/_+/g, " ")
    .trim()
    .toLowerCase();
  return words === "" ? name : words.charAt(0).toUpperCase() + words.slice(1);
}
