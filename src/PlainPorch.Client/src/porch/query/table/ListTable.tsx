import {
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type ComponentProps,
  type CSSProperties,
  type KeyboardEvent,
} from "react";
import type { ListPage, ListRow, Panel } from "../../../api/client";
import type { PanelAddress } from "../../../api/queries";
import { nextPage, previousPage } from "../ListFooter";
import type { ChangeView, ListView } from "../../../api/listView";
import { columnsOf, columnsText, moved } from "./columns";
import { MovableRow } from "../../ordering/MovableRow";
import { MovableRows } from "../../ordering/MovableRows";
import type { MoveWish } from "../../ordering/useMoves";
import { ListHead } from "./ListHead";
import { useHeadInSight } from "./useHeadInSight";
import { TableCell } from "./TableCell";
import { TotalRows } from "./TotalRows";
import { useCellEditing } from "./useCellEditing";
import type { ListLook } from "./useListLook";
import type { Selection } from "./useSelection";
import { recordPath } from "../../../paths";
import { bareOf, bareWith } from "../../../api/bare";

export interface ListTableProps {
  address: PanelAddress;
  panel: Panel;
  page: ListPage;
  view: ListView;
  onChange: ChangeView;
  onOpen: (row: ListRow, index: number) => void;
  onLeave: () => void;
  /** The row to put the focus on once it is there; null leaves the focus alone. */
  focusRow: number | null;
  selection: Selection;
  /** Moves records in the running order; null where the list is in another one. */
  onMoveRows: ((wish: MoveWish) => void) | null;
}

interface TableLookProps extends ListTableProps {
  look: ListLook;
  onLook: (part: Partial<ListLook>) => void;
  withTotals: boolean;
  /** Whether a click changes a cell instead of opening the record. */
  clickEdits: boolean;
  /** Told what a cell could not save when it is no longer there to say it. */
  onLost: (message: string) => void;
}

const MIDDLE = 1;

// As every link does: by Ctrl and by the middle button in a tab of its own.
function openApart(address: PanelAddress, row: ListRow) {
  if (row.key !== null) window.open(recordPath(address.porch, address.panel, row.key), "_blank", "noopener");
}

/**
 * The table of a list. Rows are one stop for the tab key; up, down, Home and End move among them, left and right among the
 * cells, Enter opens, F2 changes a cell, space chooses, page keys turn.
 */
export function ListTable(props: TableLookProps) {
  const { address, panel, page, view, onChange, onOpen, onLeave, focusRow, selection, look, onLook } = props;
  const columns = pinnedFirst(columnsOf(page, panel, view), look.pinned);
  const canChoose = panel.mostChosen > 0;
  const onMoveRows = props.onMoveRows;
  const body = useRef<HTMLTableSectionElement>(null);
  const leftPage = useRef<ListPage | null>(null);
  const [current, setCurrent] = useState(0);
  const [cursor, setCursor] = useState<string | null>(null);
  const [hasFocus, setHasFocus] = useState(false);
  const active = Math.min(current, page.rows.length - 1);

  const focus = (index: number) => {
    const target = Math.max(0, Math.min(index, page.rows.length - 1));
    setCurrent(target);
    body.current?.querySelectorAll<HTMLElement>(":scope > tr").item(target).focus();
  };
  const editing = useCellEditing(address, panel, page, columns, focus);
  const { table, places } = usePinnedPlaces(columns, look, Number(canChoose) + Number(onMoveRows !== null));

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
  const choose = (index: number) => {
    const key = page.rows[index]?.key;
    if (key != null) selection.toggle(key);
  };
  const moveCursor = (by: number) => {
    const at = columns.findIndex((column) => column.name === cursor);
    const to = columns[Math.max(0, Math.min(columns.length - 1, at + by))];
    setCursor(to?.name ?? null);
  };

  const onKeyDown = (event: KeyboardEvent<HTMLTableRowElement>, row: ListRow, index: number) => {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const act: Record<string, (() => void) | undefined> = {
      ArrowDown: () => {
        if (event.shiftKey && row.key !== null && !selection.keys.has(row.key)) choose(index);
        focus(index + 1);
      },
      ArrowUp: () => {
        if (event.shiftKey && row.key !== null && !selection.keys.has(row.key)) choose(index);
        if (index === 0) onLeave();
        else focus(index - 1);
      },
      ArrowLeft: () => {
        moveCursor(-1);
      },
      ArrowRight: () => {
        moveCursor(1);
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
      " ": () => {
        choose(index);
      },
      F2: () => {
        editing.start(row, cursor ?? columns[0]?.name ?? "");
      },
      Escape: onLeave,
    };
    const action = act[event.key];
    if (!action) return;
    event.preventDefault();
    action();
  };

  const pinnedStyle = (name: string): CSSProperties | undefined => {
    const left = places[name];
    return left === undefined ? undefined : { position: "sticky", left, zIndex: 1 };
  };
  const widthStyle = (name: string): CSSProperties | undefined => {
    const width = look.widths[name];
    return width === undefined ? undefined : { width, minWidth: width, maxWidth: width };
  };

  useHeadInSight(table);

  const whole = (
    <div className="-mx-4 overflow-x-auto border-y border-line bg-sheet sm:mx-0 sm:border-x" tabIndex={-1}>
      <table ref={table} className="w-full border-collapse text-[15px]">
        <ListHead
          columns={columns}
          sort={view.sort}
          onSort={(sort) => {
            onChange({ sort });
          }}
          onMove={(name, to) => {
            const names = columns.map((column) => column.name);
            const next = moved(names, names.indexOf(name), to);
            onChange({ columns: columnsText(panel, next), page: view.page, at: view.at });
          }}
          onWidth={(name, width) => {
            onLook({ widths: bareWith(look.widths, name, width) });
          }}
          styleOf={(name) => ({ ...widthStyle(name), ...pinnedStyle(name) })}
          canMove={onMoveRows !== null}
          chooseAll={
            canChoose
              ? {
                  isChosen: page.rows.every((row) => row.key !== null && selection.keys.has(row.key)),
                  onToggle: () => {
                    selection.toggleAll(page.rows.flatMap((row) => row.key ?? []));
                  },
                }
              : null
          }
        >
          {props.withTotals && (
            <TotalRows
              address={address}
              panel={panel}
              view={view}
              columns={columns}
              before={Number(canChoose) + Number(onMoveRows !== null)}
            />
          )}
        </ListHead>
        <tbody
          ref={body}
          onFocus={() => {
            setHasFocus(true);
          }}
          onBlur={(event) => {
            if (!event.currentTarget.contains(event.relatedTarget)) setHasFocus(false);
          }}
        >
          {page.rows.map((row, index) => {
            const isChosen = row.key !== null && selection.keys.has(row.key);
            const rowProps: ComponentProps<"tr"> = {
              tabIndex: index === active ? 0 : -1,
              "aria-label": row.title,
              "aria-selected": canChoose ? isChosen : undefined,
              onFocus: () => {
                setCurrent(index);
              },
              onKeyDown: (event) => {
                if (event.target === event.currentTarget) onKeyDown(event, row, index);
              },
              onClick: (event) => {
                if (window.getSelection()?.toString()) return;
                if (event.ctrlKey || event.metaKey) openApart(address, row);
                else onOpen(row, index);
              },
              onAuxClick: (event) => {
                if (event.button === MIDDLE && !(event.target as Element).closest("a")) openApart(address, row);
              },
              className: `cursor-pointer scroll-mt-22 scroll-mb-14 border-b border-line last:border-0 focus-visible:bg-accent-tint focus-visible:-outline-offset-2 data-dragging:relative data-dragging:z-2 data-dragging:shadow-lg ${
                isChosen ? "bg-accent-tint" : "bg-sheet hover:bg-paper"
              }`,
            };
            const cells = (
              <>
                {canChoose && (
                  <td
                    className="sticky left-0 z-1 w-9 bg-inherit px-2 text-center"
                    onClick={(event) => {
                      event.stopPropagation();
                      choose(index);
                    }}
                  >
                    <input
                      type="checkbox"
                      tabIndex={-1}
                      readOnly
                      aria-label={`Select ${row.title}`}
                      className="size-4 align-middle accent-accent"
                      checked={isChosen}
                    />
                  </td>
                )}
                {columns.map((column) => (
                  <TableCell
                    key={column.name}
                    address={address}
                    panel={panel}
                    page={page}
                    row={row}
                    column={column}
                    cell={editing.cell}
                    editor={editing.editor}
                    onStart={editing.start}
                    onSaved={editing.onSaved}
                    onLeave={editing.leave}
                    clickEdits={props.clickEdits}
                    isClose={look.isClose}
                    isAtCursor={hasFocus && index === active && cursor === column.name}
                    style={{ ...widthStyle(column.name), ...pinnedStyle(column.name) }}
                    onCursor={() => {
                      setCursor(column.name);
                    }}
                    onLost={props.onLost}
                  />
                ))}
              </>
            );
            return onMoveRows && row.key !== null ? (
              <MovableRow key={row.key} id={row.key} title={row.title} isActive={index === active} {...rowProps}>
                {cells}
              </MovableRow>
            ) : (
              <tr key={row.key ?? index} {...rowProps}>
                {cells}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
  return onMoveRows ? (
    <MovableRows rows={page.rows} chosen={selection.keys} onMove={onMoveRows}>
      {whole}
    </MovableRows>
  ) : (
    whole
  );
}

function pinnedFirst<T extends { name: string }>(columns: T[], pinned: string[]): T[] {
  const isPinned = (column: T) => pinned.includes(column.name);
  return [...columns.filter(isPinned), ...columns.filter((column) => !isPinned(column))];
}

// Where each pinned column stays depends on how wide those before it have become.
function usePinnedPlaces(columns: { name: string }[], look: ListLook, before: number) {
  const table = useRef<HTMLTableElement>(null);
  const [places, setPlaces] = useState(() => bareOf<number>([]));
  useLayoutEffect(() => {
    const heads = [...(table.current?.querySelectorAll<HTMLElement>("thead th") ?? [])];
    const next = new Map<string, number>();
    let left = heads.splice(0, before).reduce((sum, head) => sum + head.offsetWidth, 0);
    columns.forEach(({ name }, place) => {
      if (!look.pinned.includes(name)) return;
      next.set(name, left);
      left += heads[place]?.offsetWidth ?? 0;
    });
    const made = bareOf(next);
    setPlaces((before) => (JSON.stringify(before) === JSON.stringify(made) ? before : made));
  }, [columns, look, before]);
  return { table, places };
}
