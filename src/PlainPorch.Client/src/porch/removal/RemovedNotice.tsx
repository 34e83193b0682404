import { useMutation } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap, type Panel } from "../../api/client";
import { ApiError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { formatCount } from "../../values/format";
import type { Removed } from "./removed";
import { setAsidePath } from "../../paths";
import { may } from "../panels/rights";

interface RemovedNoticeProps {
  address: PanelAddress;
  panel: Panel;
  removed: Removed;
  /** What was done, where it was not simply removed. */
  verb?: string;
  onClose: () => void;
}

/** Says what was just removed, and offers to bring it back right where it happened. */
export function RemovedNotice({ address, panel, removed, verb, onClose }: RemovedNoticeProps) {
  const changed = useRecordsChanged();
  const bringBack = useMutation({
    mutationFn: (parcel: number) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/set-aside/{parcel}/return", {
          params: { path: { ...address, parcel } },
          body: {},
        }),
      ),
    onSuccess: () => {
      void changed(address.porch);
    },
  });
  const what =
    removed.chosen === 1 ? `${panel.recordLabel} “${removed.title}”` : `${formatCount(removed.chosen)} records`;
  const others = removed.count - removed.chosen;
  const needsLook = bringBack.error instanceof ApiError && bringBack.error.status === 409;
  if (bringBack.data)
    return (
      <Notice title={`Brought back: ${what}.`} actions={<Button onClick={onClose}>Close</Button>}>
        {bringBack.data.count > removed.chosen &&
          `${formatCount(bringBack.data.count - removed.chosen)} came with it, all as they were.`}
      </Notice>
    );
  return (
    <Notice
      title={`${verb ?? (removed.parcel === null ? "Erased" : "Set aside")}: ${verb ? `“${removed.title}”` : what}${others > 0 && !verb ? `, and ${formatCount(others)} that went along` : ""}.`}
      actions={
        <>
          {removed.parcel !== null && !needsLook && may(panel, "bringBack") && (
            <Button
              tone="next"
              accessKey="b"
              title="Alt + B"
              disabled={bringBack.isPending}
              onClick={() => {
                if (removed.parcel !== null) bringBack.mutate(removed.parcel);
              }}
            >
              {bringBack.isPending ? "Bringing back …" : "Bring back"}
            </Button>
          )}
          <Button onClick={onClose}>Close</Button>
        </>
      }
    >
      {needsLook ? (
        <>
          There is a conflict.{" "}
          <Link className="link" to={setAsidePath(address.porch, address.panel)}>
            Show what is set aside
          </Link>
        </>
      ) : (
        bringBack.error?.message
      )}
    </Notice>
  );
}
