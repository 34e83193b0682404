import type { Schemas } from "../../api/client";
import { formatCount } from "../../values/format";

/** What was found out about a table of a file. */
export function LookedNotes({ table }: { table: Schemas["LookedTable"] }) {
  return (
    <p className="max-w-prose text-sm text-faint">
      {formatCount(table.rows)} {table.rows === 1 ? "row" : "rows"}.{" "}
      {table.misfits > 0 && `${formatCount(table.misfits)} of them are no rows of the table. `}
      {table.notes.join(" ")}
    </p>
  );
}

/** What is to be known about a column before its values are taken for what they look like. */
export function ColumnNotes({ column }: { column: Schemas["LookedColumn"] }) {
  const notes = [
    column.reading,
    column.empty > 0 && `${formatCount(column.empty)} empty`,
    column.doubtful > 0 && `${formatCount(column.doubtful)} would be others if read as ${column.otherwise ?? ""}`,
    column.nearly && `nearly ${column.nearly}`,
    column.isSensitive && "confidential",
  ].filter((note) => typeof note === "string" && note !== "");
  if (notes.length === 0) return null;
  return (
    <span className={`text-sm ${column.doubtful > 0 || column.nearly ? "font-medium" : "text-faint"}`}>
      {notes.join("; ")}
    </span>
  );
}

/** Some of the values of a column, as they stand in the file. */
export function samplesOf(table: Schemas["LookedTable"], place: number): string {
  const values = table.first.map((row) => row[place]).filter((value) => value != null && value.trim() !== "");
  return [...new Set(values)]
    .slice(0, 3)
    .map((value) => (value && value.length > 40 ? `${value.slice(0, 40)}…` : value))
    .join(" · ");
}
