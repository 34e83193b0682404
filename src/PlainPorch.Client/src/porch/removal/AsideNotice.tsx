import { formatMoment } from "../../values/format";
import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import type { Panel } from "../../api/client";
import { parcelOfQuery, type PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { setAsidePath } from "../../paths";
import { may } from "../panels/rights";
import { BringBackDialog } from "./BringBackDialog";

interface AsideNoticeProps {
  address: PanelAddress;
  panel: Panel;
  recordKey: string;
  /** What is shown of a record that is not there and in no parcel either. */
  otherwise?: ReactNode;
}

/** Says that a record is set aside, by whom and when, and leads back. */
export function AsideNotice({ address, panel, recordKey, otherwise }: AsideNoticeProps) {
  const parcel = useQuery(parcelOfQuery(address, recordKey));
  const [isOpen, setOpen] = useState(false);
  if (parcel.isPending) return <Loading what={panel.recordLabel} />;
  if (!parcel.data)
    return (
      otherwise ?? (
        <Notice
          title="This record is set aside."
          actions={
            <Link className="link" to={setAsidePath(address.porch, address.panel)}>
              Set aside from {panel.label}
            </Link>
          }
        >
          It is marked so in the table, perhaps by another program.
        </Notice>
      )
    );
  return (
    <Notice
      title={`This record is set aside, by ${parcel.data.who} on ${formatMoment(parcel.data.at)}.`}
      actions={
        may(panel, "bringBack") && (
          <Button
            tone="next"
            onClick={() => {
              setOpen(true);
            }}
          >
            Bring back …
          </Button>
        )
      }
    >
      {isOpen && (
        <BringBackDialog
          address={address}
          parcel={parcel.data}
          onClose={() => {
            setOpen(false);
          }}
        />
      )}
    </Notice>
  );
}
