import { useState } from "react";
import type { Panel } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { PopoverPanel } from "../../../ui/PopoverPanel";
import { Tick } from "../../../ui/Tick";
import type { ChangeView, ListView } from "../../../api/listView";
import { ColumnPicker } from "../ColumnPicker";
import { columnsText, shownColumns } from "./columns";
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
      <ColumnPicker
        columns={panel.columns.filter((column) => names.includes(column.name) || column.inList || column.inForm)}
        chosen={names}
        onChoose={show}
        beside={(column) => (
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
        )}
      />
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
