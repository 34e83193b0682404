import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import type { Column, ListPage, ListRow, LookupTitle, Panel } from "../api/client";
import { alignsRight, formatValue } from "../values/format";
import { nextPage, previousPage } from "./ListFooter";
import type { ChangeView, ListView } from "./listView";
import { LookupValue } from "./LookupValue";
import { pressed, sortedBy } from "./sorting";

interface ListTableProps {
  porch: string;
  panel: Panel;
  page: ListPage;
  view: ListView;
  onChange: ChangeView;
  onOpen: (row: ListRow, index: number) => void;
  onLeave: () => void;
  /** The row to put the focus on once it is there; null leaves the focus alone. */
  focusRow: number | null;
}

/** The table of a list. Rows are one stop for the tab key; arrows, Home and End move, Enter opens, page keys turn. */
export function ListTable({ porch, panel, page, view, onChange, onOpen, onLeave, focusRow }: ListTableProps) {
  const columns = panel.columns.filter((column) => column.inList);
  const body = useRef<HTMLTableSectionElement>(null);
  const leftPage = useRef<ListPage | null>(null);
  const [current, setCurrent] = useState(0);
  const active = Math.min(current, page.rows.length - 1);

  const focus = (index: number) => {
    const target = Math.max(0, Math.min(index, page.rows.length - 1));
    setCurrent(target);
    body.current?.querySelectorAll("tr").item(target).focus();
  };

  useEffect(() => {
    if (focusRow === null) return;
    body.current
      ?.querySelectorAll("tr")
      .item(Math.min(focusRow, page.rows.length - 1))
      .focus();
    // Only when told anew, not when rows change under the reader.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [focusRow]);

  // The rows of the old page go, and the focus with them: whoever turned by key goes on in the new one.
  useEffect(() => {
    if (leftPage.current === null || leftPage.current === page) return;
    leftPage.current = null;
    body.current?.querySelector("tr")?.focus();
  }, [page]);

  const turn = (change: Partial<ListView>) => {
    leftPage.current = page;
    onChange(change);
  };

  const onKeyDown = (event: KeyboardEvent<HTMLTableRowElement>, row: ListRow, index: number) => {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const act: Record<string, (() => void) | undefined> = {
      ArrowDown: () => {
        focus(index + 1);
      },
      ArrowUp: () => {
        if (index === 0) onLeave();
        else focus(index - 1);
      },
      Home: () => {
        focus(0);
      },
      End: () => {
        focus(page.rows.length - 1);
      },
      PageDown: () => {
        if (page.hasNext) turn(nextPage(page, view));
      },
      PageUp: () => {
        if (page.hasPrevious) turn(previousPage(page, view));
      },
      Enter: () => {
        onOpen(row, index);
      },
      Escape: onLeave,
    };
    const action = act[event.key];
    if (!action) return;
    event.preventDefault();
    action();
  };

  return (
    <div className="-mx-4 overflow-x-auto border-y border-line bg-sheet sm:mx-0 sm:border-x" tabIndex={-1}>
      <table className="w-full border-collapse text-[15px]">
        <thead>
          <tr className="border-b border-edge text-left">
            {columns.map((column) => (
              <SortableHead key={column.name} column={column} sort={view.sort} onChange={onChange} />
            ))}
          </tr>
        </thead>
        <tbody ref={body}>
          {page.rows.map((row, index) => (
            <tr
              key={row.key ?? index}
              tabIndex={index === active ? 0 : -1}
              aria-label={row.title}
              onFocus={() => {
                setCurrent(index);
              }}
              onKeyDown={(event) => {
                onKeyDown(event, row, index);
              }}
              onClick={() => {
                if (window.getSelection()?.toString()) return;
                onOpen(row, index);
              }}
              className="cursor-pointer border-b border-line last:border-0 hover:bg-paper focus-visible:bg-accent-tint focus-visible:-outline-offset-2"
            >
              {columns.map((column) => (
                <Cell
                  key={column.name}
                  porch={porch}
                  column={column}
                  text={row.values[page.columns.indexOf(column.name)] ?? null}
                  titles={page.lookups[column.name]}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface SortableHeadProps {
  column: Column;
  sort: string[];
  onChange: ChangeView;
}

function SortableHead({ column, sort, onChange }: SortableHeadProps) {
  const by = sortedBy(sort, column.name);
  const align = alignsRight(column) ? "text-right" : "text-left";
  if (!column.isOrderable)
    return (
      <th scope="col" className={`px-3 py-1.5 text-sm font-semibold text-faint ${align}`}>
        {column.label}
      </th>
    );
  return (
    <th
      scope="col"
      aria-sort={by === null ? undefined : by.descending ? "descending" : "ascending"}
      className={`p-0 text-sm font-semibold ${align}`}
    >
      <button
        type="button"
        title={`Sort by ${column.label}; with Shift, after the other columns`}
        onClick={(event) => {
          onChange({ sort: pressed(sort, column.name, event.shiftKey) });
        }}
        className={`w-full px-3 py-1.5 hover:bg-tint ${align} ${by ? "text-ink" : "text-faint"}`}
      >
        {column.label}
        {by && (
          <span aria-hidden>
            {" "}
            {by.descending ? "↓" : "↑"}
            {sort.length > 1 && <sub>{by.place + 1}</sub>}
          </span>
        )}
      </button>
    </th>
  );
}

interface CellProps {
  porch: string;
  column: Column;
  text: string | null;
  titles: Record<string, LookupTitle> | undefined;
}

function Cell({ porch, column, text, titles }: CellProps) {
  if (column.isLookup)
    return (
      <td className="h-8 max-w-72 truncate px-3 py-1">
        <LookupValue porch={porch} title={text === null ? undefined : titles?.[text]} value={text} tabIndex={-1} />
      </td>
    );
  const shown = formatValue(column, text);
  const align = alignsRight(column) ? "text-right whitespace-nowrap" : "max-w-72 truncate";
  return (
    <td className={`h-8 px-3 py-1 ${align}`} title={shown.length > 40 ? shown : undefined}>
      {shown}
    </td>
  );
}
