import { Link } from "react-router";
import type { Panel } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { type ListState } from "./listState";
import { panelPath } from "../../paths";

interface BackToListProps {
  address: PanelAddress;
  panel: Panel;
  /** The list that was come from: its address part, and the row. */
  from?: ListState;
}

/** The way back to a panel's list. */
export function BackToList({ address, panel, from }: BackToListProps) {
  return (
    <p>
      <Link
        to={panelPath(address.porch, address.panel) + (from?.list ?? "")}
        state={from && { row: from.row }}
        className="link"
      >
        ← {panel.label}
      </Link>
    </p>
  );
}
