import type { CSSProperties } from "react";
import { titleIn } from "../../../values/referring";
import type { Column, ListPage, ListRow, Panel } from "../../../api/client";
import type { PanelAddress } from "../../../api/queries";
import { alignsRight } from "../../../values/format";
import { CellEditorPart } from "./cellEditorPart";
import { CellValue } from "./CellValue";
import { isEditable, isUnfit, textOf } from "./columns";
import type { CellEditing } from "./useCellEditing";

interface TableCellProps {
  address: PanelAddress;
  panel: Panel;
  page: ListPage;
  row: ListRow;
  column: Column;
  cell: CellEditing["cell"];
  editor: CellEditing["editor"];
  onStart: CellEditing["start"];
  onSaved: CellEditing["onSaved"];
  onLeave: CellEditing["leave"];
  /** Whether a click changes it instead of opening the record. */
  clickEdits: boolean;
  isClose: boolean;
  /** Whether its value is the link to the record. */
  isLink: boolean;
  isAtCursor: boolean;
  /** Its width and place where these were set by hand. */
  style: CSSProperties;
  onCursor: () => void;
  onLost: (message: string) => void;
}

/** One cell of a list: a value, or the input that changes it. */
export function TableCell(props: TableCellProps) {
  const { address, panel, page, row, column, clickEdits, style, editor } = props;
  const text = textOf(page, row, column);
  const title = titleIn(page, row, column);
  const cell = props.cell?.key === row.key && props.cell.column === column.name ? props.cell : null;
  const canEdit = row.key !== null && isEditable(panel, column);
  const look = [
    props.isClose ? "h-8 py-1" : "h-11 py-2.5",
    cell ? "overflow-visible" : alignsRight(column) ? "text-right whitespace-nowrap" : "truncate",
    style.width === undefined ? "max-w-72" : "",
    props.isAtCursor && !cell ? "outline-1 -outline-offset-1 outline-edge outline-dashed" : "",
    clickEdits && canEdit ? "cursor-text" : "",
  ].join(" ");
  return (
    <td
      data-column={column.name}
      style={style}
      className={`bg-inherit px-3 ${look}`}
      // Before a link in the cell gets the click.
      onClickCapture={(event) => {
        props.onCursor();
        if (!clickEdits || !canEdit || cell) return;
        event.preventDefault();
        event.stopPropagation();
        props.onStart(row, column.name);
      }}
    >
      {cell ? (
        <CellEditorPart.Part
          key={`${cell.key} ${column.name}`}
          ref={editor}
          address={address}
          column={column}
          row={row}
          text={cell.text}
          known={title}
          onSaved={props.onSaved}
          onLeave={props.onLeave}
          onLost={props.onLost}
        />
      ) : (
        <CellValue
          address={address}
          column={column}
          row={row}
          text={text}
          title={title}
          isLink={props.isLink}
          isUnfit={isUnfit(page, row, column)}
        />
      )}
    </td>
  );
}
