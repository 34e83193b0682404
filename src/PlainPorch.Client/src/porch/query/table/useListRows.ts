import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import type { ListPage, ListRow } from "../../../api/client";
import type { ChangeView, ListView } from "../../../api/listView";
import { nextPage, previousPage } from "../ListFooter";
import type { Selection } from "./useSelection";

interface ListRowsOptions {
  page: ListPage;
  view: ListView;
  columns: { name: string }[];
  selection: Selection;
  /** The row to put the focus on once it is there; null leaves the focus alone. */
  focusRow: number | null;
  onChange: ChangeView;
  onOpen: (row: ListRow, index: number) => void;
  onLeave: () => void;
  onCurrent?: (row: ListRow | null) => void;
}

/** The rows of a list as one stop of the tab key: which has the focus, at which of its columns one is, and what the keys do. */
export function useListRows({ page, view, columns, selection, focusRow, ...on }: ListRowsOptions) {
  const body = useRef<HTMLTableSectionElement>(null);
  const leftPage = useRef<ListPage | null>(null);
  const [current, setCurrent] = useState(0);
  const [cursor, setCursor] = useState<string | null>(null);
  const [hasFocus, setHasFocus] = useState(false);
  const last = page.rows.length - 1;
  const active = Math.min(current, last);

  const { onCurrent } = on;
  const at = page.rows[active] ?? null;
  useEffect(() => {
    onCurrent?.(at);
  }, [at, onCurrent]);

  const focus = (index: number) => {
    const target = Math.max(0, Math.min(index, last));
    setCurrent(target);
    body.current?.querySelectorAll<HTMLElement>(":scope > tr").item(target).focus();
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
    on.onChange(change);
  };
  const choose = (index: number) => {
    const key = page.rows[index]?.key;
    if (key != null) selection.toggle(key);
  };
  const alsoChoose = (index: number) => {
    const key = page.rows[index]?.key;
    if (key != null && !selection.keys.has(key)) choose(index);
  };
  const moveCursor = (by: number) => {
    const at = columns.findIndex((column) => column.name === cursor);
    setCursor(columns[Math.max(0, Math.min(columns.length - 1, at + by))]?.name ?? null);
  };

  const act = (key: string, withShift: boolean, row: ListRow, index: number): (() => void) | undefined => {
    const acts: Record<string, (() => void) | undefined> = {
      ArrowDown: () => {
        if (withShift) alsoChoose(index);
        focus(index + 1);
      },
      ArrowUp: () => {
        if (withShift) alsoChoose(index);
        if (index === 0) on.onLeave();
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
        focus(last);
      },
      PageDown: () => {
        if (page.hasNext) turn(nextPage(page, view));
      },
      PageUp: () => {
        if (page.hasPrevious) turn(previousPage(page, view));
      },
      Enter: () => {
        on.onOpen(row, index);
      },
      " ": () => {
        choose(index);
      },
      Escape: on.onLeave,
    };
    return acts[key];
  };

  /** Does what a key means on a row; the given acts come first. */
  const onKeyDown = (event: KeyboardEvent, row: ListRow, index: number, first: Record<string, () => void> = {}) => {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const action = first[event.key] ?? act(event.key, event.shiftKey, row, index);
    if (!action) return;
    event.preventDefault();
    action();
  };

  return { body, active, cursor, hasFocus, focus, choose, setCurrent, setCursor, setHasFocus, onKeyDown };
}
