import { ApiError } from "../api/problems";

/** What is wrong with which field, and what is wrong beyond that. */
export function problemsOf(
  error: Error | null,
  known: string[],
): { fields: Record<string, string>; other: Error | null } {
  const fields = error instanceof ApiError ? error.fields : {};
  const isTold = known.some((field) => fields[field] !== undefined);
  return { fields, other: isTold ? null : error };
}
