import type { ListRow } from "../../../api/client";
import type { PanelAddress } from "../../../api/queries";
import { recordPath } from "../../../paths";

interface RecordLinkProps {
  address: PanelAddress;
  row: ListRow;
  shown: string;
}

/**
 * The address of a row's record, to be copied or opened in a tab as that of every link. A plain click is the row's: it opens the
 * record, and the way back leads to the row.
 */
export function RecordLink({ address, row, shown }: RecordLinkProps) {
  if (row.key === null) return shown;
  return (
    <a
      href={recordPath(address.porch, address.panel, row.key)}
      tabIndex={-1}
      draggable={false}
      onClick={(event) => {
        if (event.ctrlKey || event.metaKey || event.shiftKey) event.stopPropagation();
        else event.preventDefault();
      }}
    >
      {shown}
    </a>
  );
}
