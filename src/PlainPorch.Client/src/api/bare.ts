/**
 * Objects that hold values by names from a database. They have no prototype, so that a column called "constructor" or "toString" is
 * not there where it is not, and one called "__proto__" is a name like any other.
 */
export type Bare<T> = Record<string, T>;

/** Makes one of names and values. */
export function bareOf<T>(entries: Iterable<readonly [string, T]>): Bare<T> {
  const made = Object.create(null) as Bare<T>;
  for (const [name, value] of entries)
    Object.defineProperty(made, name, { value, enumerable: true, configurable: true, writable: true });
  return made;
}

/** One with another value under a name. */
export function bareWith<T>(bare: Bare<T>, name: string, value: T): Bare<T> {
  return bareOf([...Object.entries(bare), [name, value]]);
}

/** Takes the prototypes from all objects of an answer. */
export function bareAll<T>(answer: T): T {
  if (typeof answer !== "object" || answer === null) return answer;
  if (Array.isArray(answer)) {
    answer.forEach(bareAll);
    return answer;
  }
  Object.setPrototypeOf(answer, null);
  Object.values(answer).forEach(bareAll);
  return answer;
}
