import { memo, useEffect, useRef, type ClipboardEvent, type KeyboardEvent, type RefObject } from "react";
import { Link } from "react-router";
import type { Bare } from "../../api/bare";
import type { Column } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { recordPath } from "../../paths";
import { alignsRight, formatValue } from "../../values/format";
import { inputKind, toInput } from "../../values/input";
import { FieldInput } from "../records/FieldInput";
import type { Unsettled } from "../records/useLookup";
import type { EntryLine } from "./entryLines";

interface EntryRowProps {
  address: PanelAddress;
  columns: Column[];
  line: EntryLine;
  number: number;
  /** The texts that are the same on all lines, by column; such cells are not typed into. */
  fixed: Bare<string>;
  /** Of each line the lookups whose text is not yet a chosen record. */
  unsettled: RefObject<Map<string, Unsettled>>;
  onType: (id: string, column: string, text: string) => void;
  onPaste: (id: string, column: string, text: string) => boolean;
  onDown: (id: string, column: string, steps: number) => void;
  onDrop: (id: string) => void;
}

/** A line of the grid: a new record, or one that is saved already. */
export const EntryRow = memo(function EntryRow(props: EntryRowProps) {
  const { address, columns, line, number, fixed, unsettled, onType, onPaste, onDown, onDrop } = props;
  // Where the typing on this line began: from there one goes on, on the next.
  const began = useRef<string>(undefined);
  const own = useRef<Unsettled>(new Map());
  useEffect(() => {
    const [all, waiting] = [unsettled.current, own.current];
    all.set(line.id, waiting);
    return () => {
      all.delete(line.id);
    };
  }, [unsettled, line.id]);
  const { saved } = line;

  const onKeyDown = (event: KeyboardEvent<HTMLTableCellElement>, column: string) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.shiftKey) return;
    const isOpen = (event.target as HTMLElement).getAttribute("aria-expanded") === "true";
    if (event.key === "Enter") {
      event.preventDefault();
      onDown(line.id, began.current ?? column, 1);
      began.current = undefined;
    } else if (!event.defaultPrevented && !isOpen && event.target instanceof HTMLInputElement) {
      // In a list of choices and in a longer text the arrows have a meaning of their own.
      const steps = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
      if (steps === 0) return;
      event.preventDefault();
      onDown(line.id, column, steps);
    }
  };
  return (
    <>
      <tr className={`border-b border-line align-top ${saved ? "text-faint" : ""}`} data-line={number}>
        <th scope="row" className="px-2 py-1.5 text-right text-sm font-normal text-faint tabular-nums">
          {number}
        </th>
        {columns.map((column) => {
          const kind = inputKind(column, null);
          const same = fixed[column.name];
          const text = line.typed[column.name] ?? "";
          if (saved || same !== undefined)
            return (
              <td
                key={column.name}
                className={`px-2 py-1.5 break-words text-faint ${alignsRight(column) ? "text-right tabular-nums" : ""}`}
              >
                {saved ? formatValue(column, text === "" ? (same ?? null) : text) : "〃"}
              </td>
            );
          const error = line.errors[column.name];
          return (
            <td
              key={column.name}
              className="p-0.5"
              onKeyDown={(event) => {
                onKeyDown(event, column.name);
              }}
              onInput={() => {
                began.current ??= column.name;
              }}
              onPaste={(event: ClipboardEvent) => {
                if (onPaste(line.id, column.name, event.clipboardData.getData("text/plain"))) event.preventDefault();
              }}
            >
              <FieldInput
                id={`cell-${line.id}-${column.name}`}
                aria-label={`${column.label}, line ${number}`}
                aria-invalid={error ? true : undefined}
                aria-describedby={error ? `error-${line.id}-${column.name}` : undefined}
                address={address}
                column={column}
                kind={kind}
                typed={text}
                present={null}
                known={undefined}
                isNew
                unsettled={own}
                valueIn={(name) => line.typed[name] ?? fixed[name] ?? null}
                onOthers={(values) => {
                  for (const [name, value] of Object.entries(values)) {
                    const other = columns.find((known) => known.name === name);
                    if (other && fixed[name] === undefined)
                      onType(line.id, name, other.isLookup ? value : toInput(inputKind(other, value), value));
                  }
                }}
                onType={(typed) => {
                  onType(line.id, column.name, typed);
                }}
              />
              {error && (
                <p id={`error-${line.id}-${column.name}`} role="alert" className="px-1 py-0.5 text-sm text-danger">
                  {error}
                </p>
              )}
            </td>
          );
        })}
        <td className="px-2 py-1.5 text-sm whitespace-nowrap">
          {saved ? (
            <Link className="link" to={recordPath(address.porch, address.panel, saved.key)}>
              {saved.title}
            </Link>
          ) : line.state === "saving" ? (
            "Saving …"
          ) : Object.keys(line.typed).length > 0 ? (
            <button
              type="button"
              tabIndex={-1}
              aria-label={`Remove line ${number}`}
              className="min-h-6 px-1 text-faint hover:text-ink"
              onClick={() => {
                onDrop(line.id);
              }}
            >
              ✕
            </button>
          ) : null}
        </td>
      </tr>
      {line.errors[""] && (
        <tr>
          <td />
          <td colSpan={columns.length + 1} role="alert" className="px-2 pb-1.5 text-sm text-danger">
            {line.errors[""]}
          </td>
        </tr>
      )}
    </>
  );
});
