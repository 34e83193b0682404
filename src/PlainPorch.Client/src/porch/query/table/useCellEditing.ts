import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { referring } from "../../../values/referring";
import { useRef, useState, type RefObject } from "react";
import type { Column, ListPage, ListRow, LookupTitle, Panel, RecordView } from "../../../api/client";
import { bareOf, bareWith } from "../../../api/bare";
import { recordQuery, recordsKey, type PanelAddress } from "../../../api/queries";
import type { CellHandle, Going } from "./CellEditor";
import { CellEditorPart } from "./cellEditorPart";
import { isEditable, textOf } from "./columns";

export interface CellEditing {
  /** The cell that is being changed; null for none. */
  cell: { key: string; column: string; text: string | null } | null;
  editor: RefObject<CellHandle | null>;
  /** Begins with the first cell that can be changed, from a column on. */
  start: (row: ListRow, column: string) => void;
  onSaved: (record: RecordView) => void;
  /** Goes on from the present cell. */
  leave: (going: Going) => void;
}

// So many characters of a text the list brings; the rest has to be fetched before it can be changed.
const CUT = 300;

/** Which cell of a list is being changed, and where that goes on. */
export function useCellEditing(
  address: PanelAddress,
  panel: Panel,
  page: ListPage,
  columns: Column[],
  onRow: (index: number) => void,
): CellEditing {
  const [cell, setCell] = useState<CellEditing["cell"]>(null);
  const editor = useRef<CellHandle>(null);
  const client = useQueryClient();
  CellEditorPart.useAhead();
  const editable = columns.filter((column) => isEditable(panel, column));

  const open = async (row: ListRow, column: Column) => {
    const text = textOf(page, row, column);
    const whole =
      text !== null && text.length > CUT && row.key !== null
        ? ((await client.query(recordQuery(address, row.key))).values[column.name] ?? null)
        : text;
    setCell({ key: row.key ?? "", column: column.name, text: whole });
  };
  const start = (row: ListRow, name: string) => {
    const from = columns.findIndex((column) => column.name === name);
    const column = [...columns.slice(from), ...columns.slice(0, from)].find((one) => isEditable(panel, one));
    if (!column || row.key === null) return;
    void (editor.current?.settle() ?? Promise.resolve(true)).then((isDone) => (isDone ? open(row, column) : undefined));
  };
  const leave = (going: Going) => {
    if (cell === null) return;
    const at = page.rows.findIndex((row) => row.key === cell.key);
    if (going === "out" || at < 0) {
      setCell((now) => (now === cell ? null : now));
      return;
    }
    const [row, name] = next(going, at, cell.column);
    const target = row === null ? undefined : page.rows[row];
    const column = editable.find((one) => one.name === name);
    if (going !== "row" && target && column) void open(target, column);
    else {
      setCell(null);
      onRow(at);
    }
  };
  const next = (going: Going, row: number, column: string): [number | null, string] => {
    const place = editable.findIndex((one) => one.name === column);
    const name = (at: number) => editable[at]?.name ?? "";
    switch (going) {
      case "down":
        return [row + 1, column];
      case "up":
        return [row - 1, column];
      case "right":
        return place + 1 < editable.length ? [row, name(place + 1)] : [row + 1, name(0)];
      case "left":
        return place > 0 ? [row, name(place - 1)] : [row - 1, name(editable.length - 1)];
      default:
        return [null, column];
    }
  };
  return {
    cell,
    editor,
    start,
    leave,
    onSaved: (record) => {
      putIntoLists(client, address, panel.columns, record);
    },
  };
}

// The row stays where it is, even where it would now stand elsewhere: nobody wants it to jump away while working down a list.
function putIntoLists(client: QueryClient, address: PanelAddress, columns: Column[], record: RecordView) {
  client.setQueriesData<ListPage>({ queryKey: [...recordsKey(address), "list"] }, (page) => {
    if (!page?.rows.some((row) => row.key === record.key)) return page;
    const rows = page.rows.map((row) =>
      row.key === record.key
        ? {
            ...row,
            title: record.title,
            version: record.version,
            values: page.columns.map((name) => record.values[name] ?? null),
          }
        : row,
    );
    let lookups = page.lookups;
    for (const [name, title] of Object.entries(record.lookups)) {
      const column = columns.find((known) => known.name === name);
      const value = column ? referring(column, (of) => record.values[of]) : null;
      if (value !== null)
        lookups = bareWith(lookups, name, bareWith(lookups[name] ?? bareOf<LookupTitle>([]), value, title));
    }
    return { ...page, rows, lookups };
  });
  void client.invalidateQueries({ queryKey: [...recordsKey(address), "record", record.key] });
  void client.invalidateQueries({ queryKey: [...recordsKey(address), "values"], refetchType: "none" });
}
