import type { Column } from "../../../api/client";
import { titleIn } from "../../../values/referring";
import { sortText, sortedBy } from "../sorting";
import { CellValue } from "./CellValue";
import { columnsOf, isUnfit, textOf } from "./columns";
import type { ListTableProps } from "./ListTable";
import { recordPath } from "../../../paths";

/** A list on a narrow screen: one record under the other, each value with its label. */
export function ListCards({ address, panel, page, view, onChange, onOpen, selection }: ListTableProps) {
  const columns = columnsOf(page, panel, view);
  return (
    <>
      <SortChoice
        columns={columns}
        sort={view.sort}
        onSort={(sort) => {
          onChange({ sort });
        }}
      />
      <ul aria-label={panel.label} className="-mx-4 border-y border-line bg-sheet">
        {page.rows.map((row, index) => (
          <li key={row.key ?? index} className="flex border-b border-line last:border-0">
            {row.key !== null && panel.mostChosen > 0 && (
              <label className="flex w-12 shrink-0 items-start justify-center pt-3">
                <input
                  type="checkbox"
                  aria-label={`Select ${row.title}`}
                  className="size-5 accent-accent"
                  checked={selection.keys.has(row.key)}
                  onChange={() => {
                    if (row.key !== null) selection.toggle(row.key);
                  }}
                />
              </label>
            )}
            <div className="min-w-0 flex-1 py-2 pr-4 pl-1">
              <a
                href={row.key === null ? undefined : recordPath(address.porch, address.panel, row.key)}
                className="flex min-h-8 w-full items-center text-left font-semibold break-words"
                onClick={(event) => {
                  if (event.ctrlKey || event.metaKey || event.shiftKey) return;
                  event.preventDefault();
                  onOpen(row, index);
                }}
              >
                {row.title}
              </a>
              <dl className="grid grid-cols-[minmax(5rem,35%)_1fr] gap-x-3 text-[15px]">
                {columns.map((column) => {
                  const text = textOf(page, row, column);
                  if (text === null || text === row.title) return null;
                  return (
                    <div key={column.name} className="contents">
                      <dt className="truncate text-faint">{column.label}</dt>
                      <dd className="min-w-0 break-words">
                        <CellValue
                          address={address}
                          column={column}
                          row={row}
                          text={text}
                          title={titleIn(page, row, column)}
                          isUnfit={isUnfit(page, row, column)}
                        />
                      </dd>
                    </div>
                  );
                })}
              </dl>
            </div>
          </li>
        ))}
      </ul>
    </>
  );
}

interface SortChoiceProps {
  columns: Column[];
  sort: string[];
  onSort: (sort: string[]) => void;
}

function SortChoice({ columns, sort, onSort }: SortChoiceProps) {
  const first = columns.find((column) => sortedBy(sort, column.name)?.place === 0);
  const isDescending = first !== undefined && (sortedBy(sort, first.name)?.descending ?? false);
  return (
    <div className="flex items-center gap-2">
      <label className="flex min-w-0 flex-1 items-center gap-2">
        <span className="shrink-0 text-faint">Sorted by</span>
        <select
          value={first?.name ?? ""}
          onChange={(event) => {
            onSort(event.target.value === "" ? [] : [sortText(event.target.value, false)]);
          }}
          className="min-h-9 min-w-0 flex-1 rounded border border-edge bg-sheet px-1"
        >
          <option value="">the panel’s default order</option>
          {columns
            .filter((column) => column.isOrderable)
            .map((column) => (
              <option key={column.name} value={column.name}>
                {column.label}
              </option>
            ))}
        </select>
      </label>
      {first && (
        <button
          type="button"
          className="min-h-9 rounded border border-edge bg-sheet px-3"
          onClick={() => {
            onSort([sortText(first.name, !isDescending)]);
          }}
        >
          {isDescending ? "↓ descending" : "↑ ascending"}
        </button>
      )}
    </div>
  );
}
