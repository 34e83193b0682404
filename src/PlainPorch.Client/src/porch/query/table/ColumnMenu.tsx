import { useState } from "react";
import type { Panel } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { PopoverPanel } from "../../../ui/PopoverPanel";
import { Tick } from "../../../ui/Tick";
import type { ChangeView, ListView } from "../../../api/listView";
import { columnsText, moved, shownColumns } from "./columns";
import type { ListLook } from "./useListLook";

interface ColumnMenuProps {
  panel: Panel;
  view: ListView;
  onChange: ChangeView;
  look: ListLook;
  onLook: (part: Partial<ListLook>) => void;
}

/** Which columns the list shows, in which order, which of them stay in sight, and how close the rows stand. */
export function ColumnMenu({ panel, view, onChange, look, onLook }: ColumnMenuProps) {
  const [isOpen, setOpen] = useState(false);
  const shown = shownColumns(panel, view);
  const others = panel.columns.filter((column) => !shown.includes(column) && (column.inList || column.inForm));
  const show = (names: string[]) => {
    // The page stays: the records are the same.
    onChange({ columns: columnsText(panel, names), page: view.page, at: view.at });
  };
  const names = shown.map((column) => column.name);
  const pin = (name: string) => {
    onLook({
      pinned: look.pinned.includes(name) ? look.pinned.filter((other) => other !== name) : [...look.pinned, name],
    });
  };
  const hasWidths = Object.keys(look.widths).length > 0;
  return (
    <PopoverPanel
      label="Columns"
      trigger={<Button>Columns</Button>}
      isOpen={isOpen}
      onOpenChange={setOpen}
      className="grid w-96 gap-3 p-3"
    >
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
                  show(names.filter((name) => name !== column.name));
                }}
              />
              <span className="truncate">{column.label}</span>
            </label>
            <label className="flex items-center gap-1 px-1 text-sm text-faint">
              <input
                type="checkbox"
                aria-label={`Pin ${column.label}`}
                className="size-4 accent-accent"
                checked={look.pinned.includes(column.name)}
                onChange={() => {
                  pin(column.name);
                }}
              />
              Pin
            </label>
            <Step
              label={`Move ${column.label} to the front`}
              sign="↑"
              isOff={place === 0}
              onStep={() => {
                show(moved(names, place, place - 1));
              }}
            />
            <Step
              label={`Move ${column.label} to the back`}
              sign="↓"
              isOff={place === shown.length - 1}
              onStep={() => {
                show(moved(names, place, place + 1));
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
                    show([...names, column.name]);
                  }}
                />
                <span className="truncate">{column.label}</span>
              </label>
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap items-center gap-3 border-t border-line pt-3">
        <Tick
          label="Compact rows"
          isOn={look.isClose}
          onTurn={(isOn) => {
            onLook({ isClose: isOn });
          }}
        />
        {(view.columns.length > 0 || hasWidths || look.pinned.length > 0) && (
          <Button
            className="ml-auto"
            onClick={() => {
              onLook({ widths: {}, pinned: [] });
              show([]);
            }}
          >
            Reset to the panel’s columns
          </Button>
        )}
      </div>
    </PopoverPanel>
  );
}

interface StepProps {
  label: string;
  sign: string;
  isOff: boolean;
  onStep: () => void;
}

function Step({ label, sign, isOff, onStep }: StepProps) {
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
