import type { Column, RecordView } from "../../api/client";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { formatValue } from "../../values/format";

interface ConflictNoticeProps {
  columns: Column[];
  base: RecordView;
  current: RecordView;
  changes: Record<string, string | null>;
  onKeepMine: () => void;
  onTakeTheirs: () => void;
}

/** Somebody else saved meanwhile: both versions side by side, and the person decides. */
export function ConflictNotice({ columns, base, current, changes, onKeepMine, onTakeTheirs }: ConflictNoticeProps) {
  const differing = columns.filter(
    (column) => column.name in changes || current.values[column.name] !== base.values[column.name],
  );
  return (
    <Notice
      tone="danger"
      title="Somebody else changed this record while you were editing. Nothing has been saved yet."
      actions={
        <>
          <Button onClick={onKeepMine}>Keep my changes, use theirs for the rest</Button>
          <Button onClick={onTakeTheirs}>Discard my changes</Button>
        </>
      }
    >
      <div className="overflow-x-auto">
        <table className="my-2 w-full border-collapse bg-sheet text-sm" data-conflict>
          <thead>
            <tr className="border-b border-edge text-left">
              {["Field", "When you opened it", "Now, by somebody else", "What you typed"].map((head) => (
                <th key={head} scope="col" className="px-2 py-1 font-semibold">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {differing.map((column) => {
              const [before, theirs] = [base.values[column.name], current.values[column.name]];
              return (
                <tr key={column.name} className="border-b border-line align-top last:border-0">
                  <th scope="row" className="px-2 py-1 text-left font-medium">
                    {column.label}
                  </th>
                  <td className="px-2 py-1">{formatValue(column, before) || "–"}</td>
                  <td className={`px-2 py-1 ${theirs === before ? "" : "font-semibold"}`}>
                    {formatValue(column, theirs) || "–"}
                  </td>
                  <td className="px-2 py-1">
                    {column.name in changes ? formatValue(column, changes[column.name]) || "(emptied)" : ""}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </Notice>
  );
}
