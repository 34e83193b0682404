import type { Panel } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { RemovedNotice } from "../removal/RemovedNotice";
import { ChangedNotice } from "./table/ChangedNotice";
import type { ListNoticeStates } from "./useRecordList";

interface ListNoticesProps {
  address: PanelAddress;
  panel: Panel;
  notices: ListNoticeStates;
}

/** What was just done in a list, each with the way back right there. */
export function ListNotices({ address, panel, notices }: ListNoticesProps) {
  const { lost, removed, changed } = notices;
  return (
    <>
      {lost !== null && (
        <Notice
          tone="danger"
          title="A cell was not saved."
          actions={
            <Button
              onClick={() => {
                notices.setLost(null);
              }}
            >
              Close
            </Button>
          }
        >
          {lost}
        </Notice>
      )}
      {removed && (
        <RemovedNotice
          key={removed.parcel}
          address={address}
          panel={panel}
          removed={removed}
          onClose={() => {
            notices.setRemoved(null);
          }}
        />
      )}
      {changed && (
        <ChangedNotice
          key={changed.entry}
          address={address}
          changed={changed}
          onClose={() => {
            notices.setChanged(null);
          }}
        />
      )}
    </>
  );
}
