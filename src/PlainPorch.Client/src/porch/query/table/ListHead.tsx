import { useRef, type CSSProperties, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import type { Column } from "../../../api/client";
import { alignsRight } from "../../../values/format";
import { pressed, sortedBy } from "../sorting";

interface ListHeadProps {
  columns: Column[];
  sort: string[];
  onSort: (sort: string[]) => void;
  onMove: (name: string, to: number) => void;
  onWidth: (name: string, width: number) => void;
  styleOf: (name: string) => CSSProperties;
  /** Chooses all records of the page; null where none can be chosen. */
  /** Whether rows have a handle to be moved by. */
  canMove: boolean;
  chooseAll: { isChosen: boolean; onToggle: () => void } | null;
  /** Rows under the heads. */
  children: ReactNode;
}

const STEP = 16;
const NARROWEST = 48;

/** The heads of the columns: pressed to sort, dragged to move, their right edge pulled to size. */
export function ListHead({
  columns,
  sort,
  onSort,
  onMove,
  onWidth,
  styleOf,
  canMove,
  chooseAll,
  children,
}: ListHeadProps) {
  const dragged = useRef<string | null>(null);
  return (
    <thead className="relative z-2">
      <tr className="border-b border-edge bg-sheet text-left">
        {canMove && (
          <th scope="col" className="w-8">
            <span className="sr-only">Move</span>
          </th>
        )}
        {chooseAll && (
          <th scope="col" className="sticky left-0 z-1 w-9 bg-inherit px-2 text-center">
            <input
              type="checkbox"
              aria-label="Select all on this page"
              className="size-4 align-middle accent-accent"
              checked={chooseAll.isChosen}
              onChange={chooseAll.onToggle}
            />
          </th>
        )}
        {columns.map((column, place) => (
          <th
            key={column.name}
            scope="col"
            style={styleOf(column.name)}
            aria-sort={ariaSort(sort, column)}
            draggable
            onDragStart={() => {
              dragged.current = column.name;
            }}
            onDragOver={(event) => {
              if (dragged.current !== null) event.preventDefault();
            }}
            onDrop={() => {
              if (dragged.current !== null) onMove(dragged.current, place);
              dragged.current = null;
            }}
            className={`group relative bg-inherit p-0 text-sm font-semibold ${alignsRight(column) ? "text-right" : "text-left"}`}
          >
            <Head
              column={column}
              sort={sort}
              onSort={onSort}
              onMove={(by) => {
                onMove(column.name, place + by);
              }}
              onWiden={(by, now) => {
                onWidth(column.name, Math.max(NARROWEST, now + by));
              }}
            />
            <Edge
              onWidth={(width) => {
                onWidth(column.name, Math.max(NARROWEST, width));
              }}
            />
          </th>
        ))}
      </tr>
      {children}
    </thead>
  );
}

interface HeadProps {
  column: Column;
  sort: string[];
  onSort: (sort: string[]) => void;
  onMove: (by: number) => void;
  onWiden: (by: number, now: number) => void;
}

function Head({ column, sort, onSort, onMove, onWiden }: HeadProps) {
  const by = sortedBy(sort, column.name);
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const step = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (step === 0 || !event.altKey) return;
    event.preventDefault();
    if (event.shiftKey) onWiden(step * STEP, event.currentTarget.offsetWidth);
    else onMove(step);
  };
  return (
    <button
      type="button"
      title={
        (column.isOrderable ? `Sort by ${column.label}; with Shift, after the other columns. ` : "") +
        "Alt and an arrow moves it, with Shift too makes it wider or narrower."
      }
      onKeyDown={onKeyDown}
      onClick={(event) => {
        if (column.isOrderable) onSort(pressed(sort, column.name, event.shiftKey));
      }}
      className={`w-full truncate px-3 py-1.5 hover:bg-tint ${alignsRight(column) ? "text-right" : "text-left"} ${by ? "text-ink" : "text-faint"}`}
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
  );
}

function Edge({ onWidth }: { onWidth: (width: number) => void }) {
  const from = useRef<{ x: number; width: number } | null>(null);
  const onPointerDown = (event: PointerEvent<HTMLSpanElement>) => {
    event.preventDefault();
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = { x: event.clientX, width: event.currentTarget.parentElement?.offsetWidth ?? 0 };
  };
  return (
    <span
      aria-hidden
      onPointerDown={onPointerDown}
      onPointerMove={(event) => {
        if (from.current) onWidth(from.current.width + event.clientX - from.current.x);
      }}
      onPointerUp={() => {
        from.current = null;
      }}
      className="absolute top-1 right-0 bottom-1 w-1.5 cursor-col-resize touch-none border-r border-line group-hover:border-edge"
    />
  );
}

function ariaSort(sort: string[], column: Column) {
  const by = sortedBy(sort, column.name);
  return by === null ? undefined : by.descending ? "descending" : "ascending";
}
