import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { formatCount } from "../../values/format";

const FEW = 15;

interface RejectedRowsProps {
  rows: Schemas["RejectedRow"][];
  columns: string[];
  /** Where they are to be had as a file. */
  href: string;
}

/** The rows that are left out, each with its reason. */
export function RejectedRows({ rows, columns, href }: RejectedRowsProps) {
  const [isAll, setAll] = useState(false);
  const shown = isAll ? rows : rows.slice(0, FEW);
  return (
    <section className="grid gap-2">
      <h3 className="font-semibold">Left out</h3>
      <p className="max-w-prose text-sm">
        <a href={href} download className="link">
          Take these rows as a file
        </a>
        , with the reason in each: mend them, and import that file.
      </p>
      <ul className="border-t border-line">
        {shown.map((row) => (
          <li key={row.row} className="border-b border-line py-1">
            <span className="text-faint">Row {formatCount(row.row)}</span>
            {row.column && <span className="font-medium"> · {row.column}</span>}: {row.reason}
            {row.values && (
              <span className="block truncate text-sm text-faint">
                {row.values
                  .map((value, place) => (value ? `${columns[place] ?? ""} ${value}` : null))
                  .filter((part) => part !== null)
                  .join(" · ")}
              </span>
            )}
          </li>
        ))}
      </ul>
      {!isAll && rows.length > FEW && (
        <div>
          <Button
            onClick={() => {
              setAll(true);
            }}
          >
            Show all {formatCount(rows.length)}
          </Button>
        </div>
      )}
    </section>
  );
}
