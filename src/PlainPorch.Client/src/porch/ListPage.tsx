import { useLocation, useNavigate } from "react-router";
import type { Panel } from "../api/client";
import type { PanelAddress } from "../api/queries";
import { ButtonLink } from "../ui/Button";
import { Notice } from "../ui/Notice";
import { useListView } from "./listView";
import { panelPath, recordPath, useListState } from "./listState";
import { RecordList } from "./RecordList";
import { WithPanel } from "./usePanel";

export function ListPage() {
  return (
    <WithPanel>
      {(address, panel) => <PanelList key={`${address.porch}/${address.panel}`} address={address} panel={panel} />}
    </WithPanel>
  );
}

function PanelList({ address, panel }: { address: PanelAddress; panel: Panel }) {
  const [view, change] = useListView();
  const { search } = useLocation();
  const { row } = useListState();
  const navigate = useNavigate();
  return (
    <div className="grid gap-4">
      <title>{`${panel.label} · ${panel.porch}`}</title>
      <h1 className="text-2xl font-semibold">{panel.label}</h1>
      {panel.notEditable && (
        <Notice title="To read only">
          {panel.notEditable.reason} {panel.notEditable.remedy}
        </Notice>
      )}
      <RecordList
        address={address}
        panel={panel}
        view={view}
        onChange={change}
        onOpen={(opened, index) => {
          void navigate(recordPath(address.porch, address.panel, opened.key ?? ""), {
            state: { list: search, row: index },
          });
        }}
        startRow={row ?? null}
        takesFocus
        actions={
          panel.canAdd && (
            <ButtonLink tone="next" to={`${panelPath(address.porch, address.panel)}/new`} state={{ list: search }}>
              Add {panel.recordLabel}
            </ButtonLink>
          )
        }
      />
    </div>
  );
}
