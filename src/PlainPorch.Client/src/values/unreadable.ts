/** The inputs of a form that hold something which the browser cannot read, by column: a date that is not in the calendar, or half of one. */
export function unreadableIn(element: HTMLElement | null): ReadonlyMap<string, string> {
  const inputs = [...(element?.querySelectorAll<HTMLInputElement>("input") ?? [])];
  return new Map(
    inputs
      .filter((input) => input.validity.badInput)
      .map((input) => [input.dataset.column ?? "", sayUnreadable(input.type)]),
  );
}

/** Says what is wrong with such an input, and what to do. */
export function sayUnreadable(type: string): string {
  const what = type === "time" ? "time of day" : type === "date" ? "date of the calendar" : "date and time";
  return `This is not a ${what}, or not all of it. Correct it, or empty all its parts. What was stored before is still there.`;
}
