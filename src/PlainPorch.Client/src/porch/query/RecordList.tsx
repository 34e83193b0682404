import { useRef, useState } from "react";
import type { ListRow, Panel } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { ConditionsButton } from "./conditions/ConditionsButton";
import { FilterPieces } from "./FilterPieces";
import { ListFooter } from "./ListFooter";
import { ListNotices } from "./ListNotices";
import { NothingHere, OfRecord } from "./ListStates";
import type { ChangeView, ListView } from "../../api/listView";
import { NarrowBar } from "./NarrowBar";
import { MovedNotice } from "../ordering/MovedNotice";
import type { Removed } from "../removal/removed";
import { SearchBox } from "./SearchBox";
import { addsUp, isEditable, shownColumns } from "./table/columns";
import { ColumnMenu } from "./table/ColumnMenu";
import { ListCards } from "./table/ListCards";
import { ListTable } from "./table/ListTable";
import { OrderMenu } from "./table/OrderMenu";
import { SelectionBar } from "./table/SelectionBar";
import { useRecordList } from "./useRecordList";
import { later } from "../../ui/later";
import { useMediaQuery } from "../../ui/useMediaQuery";

// Where there is little room, buttons stand in one line, which is moved sideways: the records are what one came for.
const sideways =
  "tight:flex-nowrap tight:overflow-x-auto tight:p-1 tight:-m-1 tight:[scrollbar-width:none] tight:[&>*]:shrink-0";
const oneLine = `ml-auto flex flex-wrap gap-2 tight:w-full tight:[&>:last-child]:order-first ${sideways}`;

// Of panels whose records people put in order.
const Order = later("order", () => import("../ordering/OrderNotice").then((module) => module.OrderNotice));
// Of records that have no page of their own: views.
const Row = later("row", () => import("./RowDialog").then((module) => module.RowDialog));

interface RecordListProps {
  address: PanelAddress;
  panel: Panel;
  view: ListView;
  onChange: ChangeView;
  onOpen: (row: ListRow, index: number) => void;
  actions?: React.ReactNode;
  /** The row to put the focus on when the list comes up; null for the search box. */
  startRow?: number | null;
  takesFocus?: boolean;
  /** Whether it stands with the record whose records it lists. */
  isWithin?: boolean;
  /** The key of the record that is shown beside or beneath the list; null for none. */
  shownKey?: string | null;
  /** What else decides how the list looks; it comes last of all. */
  looks?: React.ReactNode;
  /** Told the row of the table that one is at. */
  onCurrent?: (row: ListRow | null) => void;
  /** Whether there is room for its rows only, and nothing to search and narrow them by. */
  isBare?: boolean;
  /** What was just removed from a record's own page. */
  removed?: Removed | null;
}

/** A panel's list with search, order and pages; the same in the porch and beside the set-up. */
export function RecordList(props: RecordListProps) {
  const {
    address,
    panel,
    view,
    onChange,
    onOpen,
    actions,
    startRow = null,
    takesFocus = false,
    isWithin = false,
    isBare = false,
  } = props;
  const { list, count, look, shown, notices, selection, moves, goToRow, focusRow, pageNumber } = useRecordList(props);
  const search = useRef<HTMLInputElement>(null);
  const [withTotals, setWithTotals] = useState(false);
  const [clickEdits, setClickEdits] = useState(false);
  // Beside the order that the reader chose, a place in the running order would mean nothing.
  const isInOrder = panel.isListedInOrder && view.sort.length === 0;
  const isNarrow = useMediaQuery("(max-width: 599px)");
  const columns = shownColumns(panel, view);
  const searched = panel.columns.filter((column) => column.searched).length;

  const table = {
    address,
    panel,
    view,
    onChange,
    onOpen: (row: ListRow, index: number) => {
      if (row.key === null) shown.set(row);
      else onOpen(row, index);
    },
    onLeave: () => search.current?.focus(),
    focusRow,
    selection,
    onMoveRows: isInOrder ? moves.move.mutate : null,
  };

  return (
    <div className="grid gap-3">
      <ListNotices address={address} panel={panel} notices={notices} />
      {panel.hasOrder && <Order.Part address={address} panel={panel} />}
      <MovedNotice moves={moves} />
      {!isBare && (
        <>
          <div className="flex flex-wrap items-start gap-3">
            {searched > 0 ? (
              <SearchBox
                ref={(input) => {
                  search.current = input;
                  if (takesFocus && startRow === null && input && document.activeElement === document.body)
                    input.focus();
                }}
                address={address}
                label={`Search ${panel.label}`}
                value={view.search}
                onSearch={(text) => {
                  onChange({ search: text });
                }}
                onLeaveDown={goToRow}
              />
            ) : (
              <p className="text-faint">No column of this panel is searched.</p>
            )}
            {list.isFetching && list.data && (
              <span role="status" className="loading-late text-faint">
                Searching …
              </span>
            )}
            <div className={`${oneLine} sm:justify-end`}>{actions}</div>
          </div>
          <div className={`flex flex-wrap items-start gap-2 ${sideways}`}>
            <NarrowBar address={address} panel={panel} view={view} onChange={onChange} />
            <ConditionsButton address={address} view={view} onChange={onChange} />
            <div className={oneLine}>
              {!isNarrow && columns.some((column) => isEditable(panel, column)) && (
                <Switch label="Edit cells" isOn={clickEdits} onSwitch={setClickEdits} />
              )}
              {!isNarrow && columns.some((column) => addsUp(panel, column)) && (
                <Switch label="Totals" isOn={withTotals} onSwitch={setWithTotals} />
              )}
              <OrderMenu panel={panel} view={view} onChange={onChange} />
              <ColumnMenu panel={panel} view={view} onChange={onChange} look={look.is} onLook={look.set} />
            </div>
          </div>
        </>
      )}
      {list.data && !list.isPlaceholderData && (
        <FilterPieces view={view} pieces={list.data.restricted} dropped={list.data.dropped ?? []} onChange={onChange} />
      )}
      {view.of && !isWithin && <OfRecord panel={panel} view={view} page={list.data} onChange={onChange} />}
      {list.isError && <Failure error={list.error} onRetry={() => void list.refetch()} />}
      {list.isPending && <Loading what={panel.label} />}
      {list.data && list.data.rows.length === 0 && (
        <NothingHere
          panel={panel}
          view={view}
          pieces={list.data.restricted}
          onChange={onChange}
          isError={list.isError}
        />
      )}
      {list.data && list.data.rows.length > 0 && (
        <div
          aria-busy={list.isPlaceholderData}
          className={list.isPlaceholderData || list.isError ? "grid gap-3 opacity-60" : "grid gap-3"}
        >
          {isNarrow ? (
            <ListCards {...table} page={list.data} />
          ) : (
            <ListTable
              {...table}
              page={list.data}
              look={look.is}
              onLook={look.set}
              withTotals={withTotals}
              clickEdits={clickEdits}
              onLost={notices.setLost}
              shownKey={props.shownKey ?? null}
              {...(props.onCurrent && { onCurrent: props.onCurrent })}
            />
          )}
          {/* Below, so that choosing a record never moves the rows under the pointer. */}
          <div className={`bottom-0 z-10 bg-paper ${selection.keys.size > 0 ? "sticky" : "hidden"} sm:bottom-12`}>
            <SelectionBar
              address={address}
              panel={panel}
              page={list.data}
              view={view}
              selection={selection}
              onRemoved={notices.setRemoved}
              onChanged={notices.setChanged}
              onMove={panel.hasOrder ? moves.move.mutate : null}
            />
          </div>
          <ListFooter
            page={list.data}
            isStale={list.isPlaceholderData}
            count={count.data}
            view={{ ...view, page: pageNumber }}
            sizes={panel.pageSizes}
            onChange={onChange}
            looks={props.looks}
          />
        </div>
      )}
      {shown.row && list.data && (
        <Row.Part
          porch={address.porch}
          panel={panel}
          page={list.data}
          row={shown.row}
          onClose={() => {
            shown.set(null);
          }}
        />
      )}
    </div>
  );
}

interface SwitchProps {
  label: string;
  isOn: boolean;
  onSwitch: (isOn: boolean) => void;
}

function Switch({ label, isOn, onSwitch }: SwitchProps) {
  return (
    <Button
      aria-pressed={isOn}
      tone={isOn ? "on" : "quiet"}
      onClick={() => {
        onSwitch(!isOn);
      }}
    >
      {label}
    </Button>
  );
}
