import { useState } from "react";
import type { Panel } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { PopoverPanel } from "../../../ui/PopoverPanel";
import type { ChangeView, ListView } from "../../../api/listView";
import { OrderEditor } from "../OrderEditor";
import { readSort, writeSort } from "../sorting";

interface OrderMenuProps {
  panel: Panel;
  view: ListView;
  onChange: ChangeView;
}

/** The order of the list in full: what pressing heads has no room for. */
export function OrderMenu({ panel, view, onChange }: OrderMenuProps) {
  const [isOpen, setOpen] = useState(false);
  const columns = panel.columns
    .filter((column) => column.isOrderable)
    .map(({ name, label, kind, isNullable }) => ({ name, label, isText: kind === "text", isNullable }));
  return (
    <PopoverPanel
      label="Order"
      trigger={<Button tone={view.sort.length > 0 ? "on" : "quiet"}>Order</Button>}
      isOpen={isOpen}
      onOpenChange={setOpen}
      className="grid w-xl gap-3 p-3"
    >
      {view.sort.length === 0 && <p className="text-sm text-faint">The list is in the panel’s default order.</p>}
      <OrderEditor
        columns={columns}
        order={view.sort.map(readSort)}
        onChange={(order) => {
          onChange({ sort: order.map(writeSort) });
        }}
      />
    </PopoverPanel>
  );
}
