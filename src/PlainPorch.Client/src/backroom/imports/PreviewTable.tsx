import type { Schemas } from "../../api/client";
import { formatCount } from "../../values/format";

interface PreviewTableProps {
  preview: Schemas["TablePreview"];
  rows: number;
}

/** The first rows as they would be stored, and the statements that make the table. */
export function PreviewTable({ preview, rows }: PreviewTableProps) {
  return (
    <section className="grid gap-2">
      <h2 className="text-lg font-semibold">Preview</h2>
      {preview.counted != null && (
        <p className="text-sm text-faint">
          What does not fit was counted in the first {formatCount(preview.counted)} of {formatCount(rows)} rows.
        </p>
      )}
      <div className="overflow-x-auto">
        <table className="border-t border-line text-sm">
          <thead>
            <tr className="border-b border-line text-left">
              {preview.columns.map((column) => (
                <th key={column.name} className="py-1 pr-4 font-medium whitespace-nowrap">
                  {column.name}
                  <span className="block font-normal text-faint">{column.type}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {preview.rows.map((row, at) => (
              <tr key={at} className="border-b border-line">
                {row.map((cell, place) => (
                  <td
                    key={place}
                    className={`max-w-64 truncate py-1 pr-4 ${cell.isMisfit ? "font-medium text-danger line-through" : ""}`}
                    title={cell.text ?? undefined}
                  >
                    {cell.text}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <details>
        <summary className="cursor-pointer font-medium">SQL</summary>
        <pre className="mt-1 overflow-x-auto bg-tint p-3 text-sm">{preview.sql}</pre>
      </details>
    </section>
  );
}
