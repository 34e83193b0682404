import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams, useSearchParams } from "react-router";
import type { Panel } from "../../api/client";
import { nextNumberQuery, recordQuery, type PanelAddress } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { useShownOnce } from "../../ui/useShownOnce";
import { bareOf } from "../../api/bare";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { afterSaving } from "./LeaveDialog";
import { useListState } from "../query/listState";
import { panelPath, recordPath } from "../../paths";
import { RecordForm } from "./RecordForm";
import { WithPanel } from "../panels/usePanel";

export function EditPage() {
  const { key = "" } = useParams();
  return (
    <WithPanel>{(address, panel) => <Editing key={key} address={address} panel={panel} recordKey={key} />}</WithPanel>
  );
}

export function NewPage() {
  return <WithPanel>{(address, panel) => <Adding address={address} panel={panel} />}</WithPanel>;
}

interface EditingProps {
  address: PanelAddress;
  panel: Panel;
  recordKey: string;
}

function Editing({ address, panel, recordKey }: EditingProps) {
  // Under a name of its own: a change in another tab must not take away what is being typed.
  const record = useQuery({
    ...recordQuery(address, recordKey),
    queryKey: ["editing", address.porch, address.panel, recordKey],
    staleTime: Infinity,
    gcTime: 0,
    refetchOnMount: "always",
  });
  const from = useListState();
  const navigate = useNavigate();
  const isShown = useShownOnce(record.isSuccess && !record.isFetching);
  if (!isShown && record.isFetching) return <Loading what={panel.recordLabel} />;
  if (!record.data) return <Failure error={record.error} onRetry={() => void record.refetch()} />;
  const read = (key: string) => recordPath(address.porch, address.panel, key);
  return (
    <div className="grid gap-4">
      <title>{`Edit ${record.data.title} · ${panel.label}`}</title>
      <h1 className="text-2xl font-semibold">Edit {record.data.title}</h1>
      <RecordForm
        address={address}
        panel={panel}
        record={record.data}
        onSaved={(saved) =>
          void navigate(read(saved?.key ?? recordKey), { state: { ...from, ...afterSaving }, replace: true })
        }
        onCancel={() => void navigate(read(recordKey), { state: from, replace: true })}
      />
    </div>
  );
}

function Adding({ address, panel }: { address: PanelAddress; panel: Panel }) {
  // Asked once: whoever looks into another tab and comes back finds what was typed.
  const proposed = useQuery({ ...nextNumberQuery(address), staleTime: Infinity, gcTime: 0, refetchOnMount: "always" });
  const isShown = useShownOnce(proposed.isSuccess && !proposed.isFetching);
  const from = useListState();
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const [of, value] = [params.get("of"), params.get("value")];
  const list = panelPath(address.porch, address.panel) + (from.list ?? "");
  if (!panel.canAdd)
    return (
      <Notice title={`No ${panel.recordLabel} can be added here.`}>
        These records can be looked at here, and not changed. The panel’s set-up says why.
      </Notice>
    );
  if (!isShown && proposed.isFetching) return <Loading what="the next number" />;
  if (!proposed.data) return <Failure error={proposed.error} onRetry={() => void proposed.refetch()} />;
  const { column, value: next } = proposed.data;
  return (
    <div className="grid gap-4">
      <title>{`Add ${panel.recordLabel} · ${panel.porch}`}</title>
      <h1 className="text-2xl font-semibold">Add {panel.recordLabel}</h1>
      <RecordForm
        address={address}
        panel={panel}
        record={null}
        proposed={bareOf(column && next ? [[column, next]] : [])}
        given={bareOf(of && value !== null && panel.columns.some((known) => known.name === of) ? [[of, value]] : [])}
        onSaved={(saved) =>
          void navigate(saved ? recordPath(address.porch, address.panel, saved.key) : list, {
            state: { ...from, ...afterSaving },
            replace: true,
          })
        }
        onCancel={() => void navigate(list, { state: from, replace: true })}
      />
    </div>
  );
}
