import type { Schemas } from "../../api/client";

type Words = Schemas["RuleWords"];
export type Word = Schemas["RuleWord"];

const keywords = new Set(
  "and or not is null true false in between like case when then else end distinct from filter where as date time timestamp".split(
    " ",
  ),
);

/** What a word of an expression is, for its colour. */
export type Sort = "keyword" | "text" | "number" | "name" | "function" | "sign";

export interface Piece {
  from: number;
  to: number;
  sort: Sort;
}

const pattern = /'(?:[^']|'')*'?|"(?:[^"]|"")*"?|\d+(?:\.\d+)?|[\p{L}_][\p{L}\p{N}_]*|[^\s\p{L}\p{N}_]/gu;

/** The words of an expression with what they are. What is wrong with it the server says. */
export function piecesOf(text: string): Piece[] {
  const pieces: Piece[] = [];
  for (const found of text.matchAll(pattern)) {
    const [word] = found;
    pieces.push({
      from: found.index,
      to: found.index + word.length,
      sort: sortOf(word, text.slice(found.index + word.length)),
    });
  }
  return pieces;
}

function sortOf(word: string, rest: string): Sort {
  if (word.startsWith("'")) return "text";
  if (word.startsWith('"')) return "name";
  if (/^\d/.test(word)) return "number";
  if (!/^[\p{L}_]/u.test(word)) return "sign";
  if (keywords.has(word.toLowerCase())) return "keyword";
  return /^\s*\(/.test(rest) ? "function" : "name";
}

export interface Completion {
  /** From where on the word is replaced. */
  from: number;
  words: Word[];
}

/** What could be meant by the word that ends at a place; null where nothing is begun. */
export function completionsAt(text: string, place: number, words: Words): Completion | null {
  const before = text.slice(0, place);
  // Within a text nothing is completed.
  if ((before.match(/'/g) ?? []).length % 2 === 1) return null;
  const way = /(?:[\p{L}_][\p{L}\p{N}_]*|"[^"]*")(?:\.(?:[\p{L}_][\p{L}\p{N}_]*|"[^"]*"))*\.?$|"[^"]*$/u.exec(
    before,
  )?.[0];
  if (way === undefined) return null;
  const parts = way.match(/"[^"]*"?|[\p{L}_][\p{L}\p{N}_]*|\./gu) ?? [];
  const last = parts.at(-1) === "." ? "" : (parts.at(-1) ?? "");
  const steps = parts.slice(0, last === "" ? parts.length : -1).filter((part) => part !== ".");
  let known: Word[] = [...words.columns, ...words.related, ...words.given, ...words.functions];
  for (const step of steps) {
    const found = known.find((word) => isCalled(word, step));
    if (!found) return null;
    known = found.within ?? [];
  }
  const typed = last.replace(/^"|"$/g, "").toLowerCase();
  const fit = known.filter((word) => starts(word.name, typed) || starts(word.says, typed));
  return fit.length === 0 ? null : { from: place - last.length, words: fit };
}

const starts = (name: string, typed: string) => name.replace(/"/g, "").toLowerCase().includes(typed);

function isCalled(word: Word, written: string): boolean {
  const plain = written.replace(/"/g, "").toLowerCase();
  return word.name.replace(/"/g, "").toLowerCase() === plain || word.says.toLowerCase() === plain;
}
