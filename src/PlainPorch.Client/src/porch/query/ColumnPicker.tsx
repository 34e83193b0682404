import type { ReactNode } from "react";
import { moved } from "./table/columns";

interface PickedColumn {
  name: string;
  label: string;
}

interface ColumnPickerProps<Column extends PickedColumn> {
  /** All that can be chosen. */
  columns: Column[];
  /** The names of those that are shown, in order. */
  chosen: string[];
  onChoose: (names: string[]) => void;
  /** What else can be said about a shown one. */
  beside?: (column: Column) => ReactNode;
}

/** Which columns are shown, and in which order. */
export function ColumnPicker<Column extends PickedColumn>(props: ColumnPickerProps<Column>) {
  const { columns, chosen, onChoose, beside } = props;
  const shown = chosen.flatMap((name) => columns.find((column) => column.name === name) ?? []);
  const names = shown.map((column) => column.name);
  const others = columns.filter((column) => !names.includes(column.name));
  return (
    <>
      <ol aria-label="Shown columns" className="grid">
        {shown.map((column, place) => (
          <li key={column.name} className="flex min-h-8 items-center gap-1 rounded pl-1 hover:bg-paper">
            <label className="flex min-w-0 flex-1 items-center gap-2">
              <input
                type="checkbox"
                className="size-5 shrink-0 accent-accent"
                checked
                disabled={shown.length === 1}
                onChange={() => {
                  onChoose(names.filter((name) => name !== column.name));
                }}
              />
              <span className="truncate">{column.label}</span>
            </label>
            {beside?.(column)}
            <Step
              label={`Move ${column.label} to the front`}
              sign="↑"
              isOff={place === 0}
              onStep={() => {
                onChoose(moved(names, place, place - 1));
              }}
            />
            <Step
              label={`Move ${column.label} to the back`}
              sign="↓"
              isOff={place === shown.length - 1}
              onStep={() => {
                onChoose(moved(names, place, place + 1));
              }}
            />
          </li>
        ))}
      </ol>
      {others.length > 0 && (
        <ul aria-label="Hidden columns" className="grid border-t border-line pt-2">
          {others.map((column) => (
            <li key={column.name} className="flex min-h-8 items-center rounded pl-1 hover:bg-paper">
              <label className="flex min-w-0 flex-1 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-5 shrink-0 accent-accent"
                  checked={false}
                  onChange={() => {
                    onChoose([...names, column.name]);
                  }}
                />
                <span className="truncate">{column.label}</span>
              </label>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

interface StepProps {
  label: string;
  sign: string;
  isOff: boolean;
  onStep: () => void;
}

/** A button that moves something by one place. */
export function Step({ label, sign, isOff, onStep }: StepProps) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={isOff}
      onClick={onStep}
      className="size-8 rounded hover:bg-tint disabled:opacity-30"
    >
      {sign}
    </button>
  );
}
