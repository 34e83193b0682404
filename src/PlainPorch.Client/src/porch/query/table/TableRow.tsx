import type { ComponentProps, KeyboardEvent, ReactNode } from "react";
import type { ListRow } from "../../../api/client";
import { MovableRow } from "../../ordering/MovableRow";

interface TableRowProps {
  row: ListRow;
  isChosen: boolean;
  /** Whether it is the record that is shown beside or beneath the list. */
  isShown: boolean;
  /** Whether it is the one that the tab key stops at. */
  isActive: boolean;
  canChoose: boolean;
  canMove: boolean;
  onChoose: () => void;
  onFocus: () => void;
  /** Told of keys on the row itself, not of those in its cells. */
  onKeyDown: (event: KeyboardEvent) => void;
  onOpen: () => void;
  /** Opens the record in a tab of its own, as a link does by Ctrl and by the middle button. */
  onOpenApart: () => void;
  children: ReactNode;
}

const MIDDLE = 1;

/** A record's row: a click opens it, a click into its box selects it. */
export function TableRow({ row, isChosen, isShown, isActive, canChoose, canMove, children, ...on }: TableRowProps) {
  const props: ComponentProps<"tr"> = {
    tabIndex: isActive ? 0 : -1,
    "aria-label": row.title,
    "aria-current": isShown || undefined,
    "aria-selected": canChoose ? isChosen : undefined,
    onFocus: on.onFocus,
    onKeyDown: (event) => {
      if (event.target === event.currentTarget) on.onKeyDown(event);
    },
    onClick: (event) => {
      if (window.getSelection()?.toString()) return;
      if (event.ctrlKey || event.metaKey) on.onOpenApart();
      else on.onOpen();
    },
    onAuxClick: (event) => {
      if (event.button === MIDDLE && !(event.target as Element).closest("a")) on.onOpenApart();
    },
    className: `cursor-pointer scroll-mt-22 scroll-mb-14 border-b border-line last:border-0 framed-row focus-visible:bg-accent-tint data-dragging:relative data-dragging:z-2 data-dragging:shadow-lg ${
      isChosen ? "bg-accent-tint" : "bg-sheet hover:bg-paper"
    } ${isShown ? "[&>td:first-child]:shadow-[inset_4px_0_0_var(--color-accent)]" : ""}`,
  };
  const cells = (
    <>
      {canChoose && (
        <td
          className="sticky left-0 z-1 w-9 bg-inherit px-2 text-center"
          onClick={(event) => {
            event.stopPropagation();
            on.onChoose();
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
      {children}
    </>
  );
  return canMove && row.key !== null ? (
    <MovableRow id={row.key} title={row.title} isActive={isActive} {...props}>
      {cells}
    </MovableRow>
  ) : (
    <tr {...props}>{cells}</tr>
  );
}
