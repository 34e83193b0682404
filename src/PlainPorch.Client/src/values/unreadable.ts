import { readTyped, sayUnreadable, type InputKind } from "./input";

/** The inputs of a form that hold something which is no value of their kind, by column: a date that is not in the calendar, or half of one. */
export function unreadableIn(element: HTMLElement | null): ReadonlyMap<string, string> {
  const inputs = [...(element?.querySelectorAll<HTMLInputElement>("input[data-reads]") ?? [])];
  return new Map(
    inputs
      .map((input) => ({
        column: input.dataset.column ?? "",
        kind: input.dataset.reads as InputKind,
        typed: input.value,
      }))
      .filter(({ kind, typed }) => typed.trim() !== "" && readTyped(kind, typed) === null)
      .map(({ column, kind }) => [column, sayUnreadable(kind)]),
  );
}
