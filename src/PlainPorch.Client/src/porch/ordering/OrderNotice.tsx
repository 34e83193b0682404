import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Panel } from "../../api/client";
import { orderQuery, type PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { formatCount } from "../../values/format";
import { NumberingDialog } from "./NumberingDialog";

interface OrderNoticeProps {
  address: PanelAddress;
  panel: Panel;
}

/** Says that the running order was never numbered, where moving records would do nothing, and leads to the numbering. */
export function OrderNotice({ address, panel }: OrderNoticeProps) {
  const order = useQuery(orderQuery(address));
  const [isOpen, setOpen] = useState(false);
  if (!order.data || order.data.isNumbered) return null;
  const { tied, empty, notNumbers } = order.data.state;
  const faults = [
    tied > 0 && `${formatCount(tied)} share a position with another`,
    empty > 0 && `${formatCount(empty)} have none`,
    notNumbers > 0 && `${formatCount(notNumbers)} have one that is not a whole number`,
  ].filter(Boolean);
  return (
    <Notice
      title={`${panel.label} have no running order yet.`}
      actions={
        <Button
          onClick={() => {
            setOpen(true);
          }}
        >
          Number them …
        </Button>
      }
    >
      {faults.join(", ")}. Once they are numbered, they can be moved.
      {isOpen && (
        <NumberingDialog
          address={address}
          panel={panel}
          onClose={() => {
            setOpen(false);
          }}
        />
      )}
    </Notice>
  );
}
