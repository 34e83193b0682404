import type { CSSProperties } from "react";
import type { ListPage, ListRow, Panel } from "../../../api/client";
import type { PanelAddress } from "../../../api/queries";
import type { ChangeView, ListView } from "../../../api/listView";
import { columnsOf, columnsText, moved } from "./columns";
import { MovableRows } from "../../ordering/MovableRows";
import type { MoveWish } from "../../ordering/useMoves";
import { ListHead } from "./ListHead";
import { useHeadInSight } from "./useHeadInSight";
import { TableCell } from "./TableCell";
import { TableRow } from "./TableRow";
import { TotalRows } from "./TotalRows";
import { useCellEditing } from "./useCellEditing";
import type { ListLook } from "./useListLook";
import { useListRows } from "./useListRows";
import { pinnedFirst, usePinnedPlaces } from "./usePinnedPlaces";
import type { Selection } from "./useSelection";
import { recordPath } from "../../../paths";
import { bareWith } from "../../../api/bare";

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
  /** The key of the record that is shown beside or beneath the list; null for none. */
  shownKey?: string | null;
  /** Told the row that one is at. */
  onCurrent?: (row: ListRow | null) => void;
  /** Told what a cell could not save when it is no longer there to say it. */
  onLost: (message: string) => void;
}

// As every link does: by Ctrl and by the middle button in a tab of its own.
function openApart(address: PanelAddress, row: ListRow) {
  if (row.key !== null) window.open(recordPath(address.porch, address.panel, row.key), "_blank", "noopener");
}

/**
 * The table of a list. Rows are one stop for the tab key; up, down, Home and End move among them, left and right among the
 * cells, Enter opens, F2 changes a cell, space chooses, page keys turn.
 */
export function ListTable(props: TableLookProps) {
  const { address, panel, page, view, onChange, onOpen, selection, look, onLook } = props;
  const columns = pinnedFirst(columnsOf(page, panel, view), look.pinned);
  const canChoose = panel.mostChosen > 0;
  const onMoveRows = props.onMoveRows;
  const before = Number(canChoose) + Number(onMoveRows !== null);
  const { body, active, cursor, hasFocus, focus, choose, setCurrent, setCursor, setHasFocus, onKeyDown } = useListRows({
    ...props,
    columns,
  });
  const editing = useCellEditing(address, panel, page, columns, focus);
  const { table, places } = usePinnedPlaces(columns, look, before);
  // What can be copied as a record's address, and opened in a tab, as every link.
  const linked = columns.find((column) => !column.isLookup && !column.isPicture && !column.holdsPaths)?.name;

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
            <TotalRows address={address} panel={panel} view={view} columns={columns} before={before} />
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
          {page.rows.map((row, index) => (
            <TableRow
              key={row.key ?? index}
              row={row}
              isChosen={row.key !== null && selection.keys.has(row.key)}
              isShown={row.key !== null && row.key === props.shownKey}
              isActive={index === active}
              canChoose={canChoose}
              canMove={onMoveRows !== null}
              onChoose={() => {
                choose(index);
              }}
              onFocus={() => {
                setCurrent(index);
              }}
              onKeyDown={(event) => {
                onKeyDown(event, row, index, {
                  F2: () => {
                    editing.start(row, cursor ?? columns[0]?.name ?? "");
                  },
                });
              }}
              onOpen={() => {
                onOpen(row, index);
              }}
              onOpenApart={() => {
                openApart(address, row);
              }}
            >
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
                  isLink={column.name === linked}
                  isAtCursor={hasFocus && index === active && cursor === column.name}
                  style={{ ...widthStyle(column.name), ...pinnedStyle(column.name) }}
                  onCursor={() => {
                    setCursor(column.name);
                  }}
                  onLost={props.onLost}
                />
              ))}
            </TableRow>
          ))}
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
