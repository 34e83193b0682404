import type { Column } from "../api/client";
import { formatValue } from "../values/format";

interface ValueListProps {
  columns: Column[];
  values: Record<string, string | null>;
}

/** A record's values to read, one under the other. */
export function ValueList({ columns, values }: ValueListProps) {
  return (
    <dl className="border-t border-line">
      {columns.map((column) => {
        const shown = formatValue(column, values[column.name]);
        const isCode = column.kind === "json";
        return (
          <div key={column.name} className="grid gap-x-6 border-b border-line py-1.5 sm:grid-cols-[13rem_1fr]">
            <dt className="text-faint">{column.label}</dt>
            <dd className={`break-words whitespace-pre-wrap ${isCode ? "font-mono text-sm" : ""}`}>
              {shown === "" ? <span className="text-faint">–</span> : shown}
            </dd>
          </div>
        );
      })}
    </dl>
  );
}
