import { Dialog } from "radix-ui";
import { titleIn } from "../../values/referring";
import type { ListPage, ListRow, Panel } from "../../api/client";
import { Button } from "../../ui/Button";
import { DialogFrame } from "../../ui/DialogFrame";
import { ValueList } from "../records/ValueList";
import { bareOf } from "../../api/bare";

interface RowDialogProps {
  porch: string;
  panel: Panel;
  page: ListPage;
  row: ListRow;
  onClose: () => void;
}

/** Reads a row that has no page of its own, because nothing tells it from its twins. */
export function RowDialog({ porch, panel, page, row, onClose }: RowDialogProps) {
  const values = bareOf(page.columns.map((name, i) => [name, row.values[i] ?? null] as const));
  const lookups = bareOf(
    panel.columns.flatMap((column) => {
      const title = titleIn(page, row, column);
      return title ? [[column.name, title] as const] : [];
    }),
  );
  return (
    <DialogFrame title={<>{row.title}</>} onOpenChange={onClose}>
      <div className="my-4">
        <ValueList porch={porch} columns={panel.columns} values={values} lookups={lookups} />
      </div>
      {panel.notEditable && (
        <p className="mb-4 text-sm text-faint">This record can be looked at here, and not changed.</p>
      )}
      <Dialog.Close asChild>
        <Button>Close</Button>
      </Dialog.Close>
    </DialogFrame>
  );
}
