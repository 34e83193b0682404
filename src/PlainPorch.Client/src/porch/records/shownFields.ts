import type { Column } from "../../api/client";

/** The names of the fields that a form does not show, as others have now the values that they hang on. */
export function hiddenFields(
  columns: readonly Column[],
  valueOf: (column: string) => string | null,
): ReadonlySet<string> {
  const byName = new Map(columns.map((column) => [column.name, column]));
  const hidden = new Set<string>();
  const isHidden = (column: Column, way: readonly string[] = []): boolean => {
    const when = column.shownWhen;
    if (!when || way.includes(column.name)) return false;
    const other = byName.get(when.column);
    // What hangs on a field that is not shown is not shown either.
    if (other && isHidden(other, [...way, column.name])) return true;
    const value = valueOf(when.column);
    return when.oneOf.length === 0
      ? value === null || value.trim() === ""
      : value === null || !when.oneOf.includes(value);
  };
  for (const column of columns) if (isHidden(column)) hidden.add(column.name);
  return hidden;
}
