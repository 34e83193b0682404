import { useRef, useState, type KeyboardEvent } from "react";
import type { PanelColumn, Schemas } from "../../api/client";
import { MovableRow } from "../../porch/ordering/MovableRow";
import { MovableRows } from "../../porch/ordering/MovableRows";
import { isComputed } from "./computedName";
import { LabelCell } from "./LabelCell";

type SetupColumn = Schemas["SetupColumn"];
type Switch = "inList" | "searched" | "narrows" | "inForm" | "required" | "readOnly";

const switches: { field: Switch; head: string }[] = [
  { field: "inList", head: "In list" },
  { field: "searched", head: "Searched" },
  { field: "narrows", head: "Narrows" },
  { field: "inForm", head: "In form" },
  { field: "required", head: "Required" },
  { field: "readOnly", head: "Read-only" },
];

const nothing: ReadonlySet<string> = new Set();

interface SetupGridProps {
  columns: PanelColumn[];
  schema: SetupColumn[];
  errors: Record<string, string>;
  onChange: (name: string, part: Partial<PanelColumn>) => void;
  /** Puts a column at another place among them. */
  onMove: (name: string, to: number) => void;
  /** Is told which column has the focus. */
  onColumn: (name: string) => void;
}

/**
 * What the panel does with each column. One stop for the tab key: arrows move between cells, space toggles, typing
 * edits a label, Alt with the arrows moves a column (the grid pattern of the ARIA authoring practices).
 */
export function SetupGrid({ columns, schema, errors, onChange, onMove, onColumn }: SetupGridProps) {
  const grid = useRef<HTMLTableElement>(null);
  const [[row, cell], setPlace] = useState<[number, number]>([0, 0]);
  const byName = new Map(schema.map((column) => [column.name, column]));

  const focus = (toRow: number, toCell: number) => {
    const place: [number, number] = [clamp(toRow, columns.length), clamp(toCell, switches.length + 1)];
    setPlace(place);
    grid.current?.querySelector<HTMLElement>(`[data-place="${place.join(" ")}"]`)?.focus();
  };

  const move = (name: string, to: number) => {
    if (to < 0 || to >= columns.length) return;
    onMove(name, to);
    setPlace([to, cell]);
    requestAnimationFrame(() => {
      focus(to, cell);
    });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const current = columns[row];
    if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown") && current) {
      event.preventDefault();
      move(current.name, row + (event.key === "ArrowUp" ? -1 : 1));
      return;
    }
    // The handle has its own keys.
    if (event.target instanceof Element && !event.target.closest("[data-place]")) return;
    if (event.target instanceof HTMLInputElement || event.ctrlKey || event.altKey || event.metaKey) return;
    const moves: Record<string, [number, number] | undefined> = {
      ArrowDown: [row + 1, cell],
      ArrowUp: [row - 1, cell],
      ArrowRight: [row, cell + 1],
      ArrowLeft: [row, cell - 1],
      Home: [row, 0],
      End: [row, switches.length],
      PageDown: [row + 10, cell],
      PageUp: [row - 10, cell],
    };
    const wanted = moves[event.key];
    if (!wanted) return;
    event.preventDefault();
    focus(...wanted);
  };

  const placeOf = (name: string | null | undefined) => columns.findIndex((column) => column.name === name);
  return (
    <MovableRows
      rows={columns.map(({ name, label }) => ({ key: name, title: label }))}
      chosen={nothing}
      onMove={({ keys: [name = ""], after, before }) => {
        const [from, target] = [placeOf(name), placeOf(after ?? before)];
        move(name, after == null ? (from < target ? target - 1 : target) : from < target ? target : target + 1);
      }}
    >
      <div className="relative overflow-x-auto border border-line bg-sheet">
        <table
          ref={grid}
          role="grid"
          aria-label="Columns"
          className="w-full border-collapse text-sm"
          onKeyDown={onKeyDown}
        >
          <thead>
            <tr className="border-b border-edge text-left align-bottom text-faint">
              <th className="w-8">
                <span className="sr-only">Move</span>
              </th>
              <th className="px-2 py-1.5">Column</th>
              <th className="px-2 py-1.5">Values, for example</th>
              <th className="px-2 py-1.5">Label</th>
              {switches.map(({ field, head }) => (
                <th key={field} className="w-14 px-1 py-1.5 text-center">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {columns.map((column, index) => {
              const known = byName.get(column.name);
              const place = (at: number) => ({
                "data-place": `${index} ${at}`,
                tabIndex: row === index && cell === at ? 0 : -1,
                onFocus: () => {
                  setPlace([index, at]);
                  onColumn(column.name);
                },
              });
              return (
                <MovableRow
                  key={column.name}
                  id={column.name}
                  title={column.label}
                  isActive={row === index}
                  className="border-b border-line bg-sheet last:border-0 data-dragging:relative data-dragging:z-2 data-dragging:shadow-lg"
                >
                  <th scope="row" className="max-w-40 px-2 py-1 text-left font-medium">
                    <span className="block truncate" title={known?.comment ?? column.name}>
                      {column.name}
                      {known?.isIdentifying && (
                        <span className="font-normal text-faint" title="Part of the key">
                          {" "}
                          · key
                        </span>
                      )}
                    </span>
                    <span className="block truncate font-normal text-faint" title={column.expression ?? undefined}>
                      {isComputed(column)
                        ? column.byCode
                          ? "computed by code"
                          : `= ${column.expression ?? ""}`
                        : known
                          ? known.storeType
                          : "no longer in the table"}
                      {column.lookup && ` → ${column.lookup.table.name}`}
                    </span>
                  </th>
                  <td className="max-w-44 px-2 py-1 text-faint">
                    <span className="line-clamp-2 break-words">{known?.samples.join(" · ")}</span>
                  </td>
                  <LabelCell
                    {...place(0)}
                    label={column.label}
                    error={errors[`columns.${column.name}.label`]}
                    onChange={(label) => {
                      onChange(column.name, { label });
                    }}
                    onMove={(by) => {
                      focus(index + by, 0);
                    }}
                  />
                  {switches.map(({ field, head }, i) => (
                    <SwitchCell
                      key={field}
                      {...place(i + 1)}
                      label={`${column.label}: ${head}`}
                      isOn={column[field] ?? false}
                      isFixed={
                        isComputed(column)
                          ? isWrittenOnly.has(field) || (column.byCode === true && isAsked.has(field))
                          : known
                            ? isFixed(field, known)
                            : true
                      }
                      onToggle={() => {
                        onChange(column.name, { [field]: !(column[field] ?? false) });
                      }}
                    />
                  ))}
                </MovableRow>
              );
            })}
          </tbody>
        </table>
      </div>
    </MovableRows>
  );
}

/** What is decided of columns that are typed into. */
const isWrittenOnly: ReadonlySet<Switch> = new Set(["required", "readOnly"]);

/** What the database is asked about. */
const isAsked: ReadonlySet<Switch> = new Set(["searched", "narrows"]);

/** Whether the schema leaves nothing to decide. */
function isFixed(field: Switch, column: SetupColumn): boolean {
  if (field === "searched") return !column.isSearchable;
  if (field === "narrows") return !column.canNarrow;
  return (field === "required" || field === "readOnly") && column.isWrittenByDatabaseOnly;
}

function clamp(value: number, count: number): number {
  return Math.max(0, Math.min(value, count - 1));
}

interface SwitchCellProps {
  label: string;
  isOn: boolean;
  isFixed: boolean;
  onToggle: () => void;
  tabIndex: number;
  onFocus: () => void;
  "data-place": string;
}

function SwitchCell({ label, isOn, isFixed, onToggle, ...cell }: SwitchCellProps) {
  return (
    <td className="p-0 text-center">
      <span
        {...cell}
        role="checkbox"
        aria-checked={isOn}
        aria-disabled={isFixed}
        aria-label={label}
        onClick={() => {
          if (!isFixed) onToggle();
        }}
        onKeyDown={(event) => {
          if (event.key !== " ") return;
          event.preventDefault();
          if (!isFixed) onToggle();
        }}
        className="flex min-h-10 cursor-pointer items-center justify-center aria-disabled:cursor-default aria-disabled:opacity-40 hover:bg-tint focus-visible:-outline-offset-2"
      >
        <svg viewBox="0 0 20 20" className="size-5" aria-hidden>
          <rect x="2" y="2" width="16" height="16" rx="3" className={isOn ? "fill-accent" : "fill-sheet stroke-edge"} />
          {isOn && <path d="m6 10.5 3 3 5-7" className="fill-none stroke-sheet stroke-2" />}
        </svg>
      </span>
    </td>
  );
}
