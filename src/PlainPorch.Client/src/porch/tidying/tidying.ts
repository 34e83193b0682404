import type { Column, Schemas } from "../../api/client";
import { fromInput, inputKind, readTyped, sayUnreadable, type InputKind } from "../../values/input";

export type Spelling = Schemas["Spelling"];
export type Group = Schemas["SpellingGroup"];

/** What somebody wants some spellings to become. */
export interface Wish {
  /** What was typed. */
  typed: string;
  /** Whether they are to be emptied. */
  empties: boolean;
  /** Whether it counts; of a spelling that stands alone, typing makes it count. */
  isOn: boolean;
  /** Spellings of the group that stay as they are. */
  left: string[];
}

/** A spelling with what it becomes. */
export interface Change {
  from: string;
  to: string | null;
  count: number;
}

/** A part of the page in which one thing is wished for several spellings, or for one. */
export interface Part {
  id: string;
  spellings: Spelling[];
  wish: Wish;
}

/** What a group is proposed to become: of near certainty it is ticked, the others somebody has to look at. */
export function proposal(group: Group, isUnfit: boolean): Wish {
  const [first] = group.spellings;
  return {
    typed: isUnfit ? "" : (first?.value.trim() ?? ""),
    empties: false,
    isOn: group.by === "signs" && !isUnfit,
    left: [],
  };
}

export const nothing: Wish = { typed: "", empties: false, isOn: true, left: [] };

/** The input that a column's new values are typed into. */
export function tidyKind(column: Column): InputKind {
  const kind = inputKind(column, null);
  return kind === "paragraph" || kind === "lines" || kind === "checks" ? "line" : kind;
}

/** What is wrong with what was typed; null where nothing is. */
export function problemOf(column: Column, wish: Wish): string | null {
  const kind = tidyKind(column);
  return wish.isOn && !wish.empties && wish.typed !== "" && readTyped(kind, wish.typed) === null
    ? sayUnreadable(kind)
    : null;
}

/** The changes that all the wishes make together. */
export function changesOf(column: Column, parts: Part[]): Change[] {
  return parts.flatMap(({ spellings, wish }) => {
    if (!wish.isOn || (wish.typed === "" && !wish.empties) || problemOf(column, wish)) return [];
    const to = wish.empties ? null : fromInput(column, tidyKind(column), wish.typed);
    return spellings
      .filter((spelling) => spelling.value !== to && !wish.left.includes(spelling.value))
      .map((spelling) => ({ from: spelling.value, to, count: spelling.count }));
  });
}

/** How many records the changes touch. */
export function recordsIn(changes: Change[]): number {
  return changes.reduce((sum, change) => sum + change.count, 0);
}

/** A spelling with what cannot be seen of it: blanks at its ends or side by side, tabs and line breaks. */
export function seeable(value: string): string {
  return value
    .replace(/\t/g, "⇥")
    .replace(/\r?\n/g, "↵")
    .replace(/^ +| +$|(?<= ) +/g, (blanks) => "␣".repeat(blanks.length));
}

const likenesses: Record<Group["by"], string> = {
  signs: "the same but for capitals, blanks, punctuation or accents",
  wordOrder: "the same words in another order",
  initials: "one is the other’s initials",
  letters: "a letter or two apart",
};

/** In what the spellings of a group are alike. */
export function sayLikeness(by: Group["by"]): string {
  return likenesses[by];
}
