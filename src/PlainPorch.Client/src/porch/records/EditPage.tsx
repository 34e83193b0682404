import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation, useNavigate, useParams, useSearchParams } from "react-router";
import type { Panel } from "../../api/client";
import { aroundQuery, nextNumberQuery, recordQuery, type PanelAddress } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { useShownOnce } from "../../ui/useShownOnce";
import { bareOf } from "../../api/bare";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { afterSaving } from "./LeaveDialog";
import { useListState } from "../query/listState";
import { panelPath, recordPath, severalPath } from "../../paths";
import { referringValues } from "../../values/referring";
import { linesToCopy, startValues, valuesToCopy } from "./beginning";
import { RecordForm } from "./RecordForm";
import { useListCameFrom } from "./Walk";
import { WithPanel } from "../panels/usePanel";

export function EditPage() {
  const { key = "" } = useParams();
  return (
    <WithPanel>{(address, panel) => <Editing key={key} address={address} panel={panel} recordKey={key} />}</WithPanel>
  );
}

export function NewPage() {
  // Each one that is added begins anew.
  const { key } = useLocation();
  return <WithPanel>{(address, panel) => <Adding key={key} address={address} panel={panel} />}</WithPanel>;
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
  const view = useListCameFrom();
  const known = useQuery({
    ...aroundQuery(address, recordKey, view),
    queryKey: ["editing", address.porch, address.panel, recordKey, "around", from.list ?? ""],
    staleTime: Infinity,
    gcTime: 0,
    enabled: !panel.byPlace && from.around === undefined,
  });
  const around = from.around ?? known.data ?? undefined;
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
        focus={from.focus}
        goOn={around?.next ? "Save and next" : undefined}
        onSaved={(saved, goesOn, focus) => {
          const { list, row } = from;
          if (goesOn && around?.next) {
            void navigate(`${read(around.next)}/edit`, {
              state: { list, row: (row ?? 0) + 1, focus, ...afterSaving },
              replace: true,
            });
          } else {
            void navigate(read(saved?.key ?? recordKey), {
              state: { list, row, around, ...afterSaving },
              replace: true,
            });
          }
        }}
        onCancel={() => void navigate(read(recordKey), { state: { ...from, focus: undefined }, replace: true })}
      />
    </div>
  );
}

function Adding({ address, panel }: { address: PanelAddress; panel: Panel }) {
  const proposed = useQuery(nextNumberQuery(address));
  const [params] = useSearchParams();
  const [of, value, copied] = [params.get("of"), params.get("value"), params.get("copy")];
  const original = useQuery({ ...recordQuery(address, copied ?? ""), enabled: copied !== null });
  const client = useQueryClient();
  // With what belongs to it, where the address says so.
  const takesLines = copied !== null && params.has("with");
  const lines = useQuery({
    queryKey: ["copying", address.porch, address.panel, copied ?? ""],
    queryFn: () =>
      original.data
        ? linesToCopy(client, address.porch, panel, original.data)
        : Promise.reject(new Error("It is not there.")),
    enabled: takesLines && original.isSuccess,
    gcTime: 0,
  });
  const isReady =
    proposed.isSuccess &&
    !proposed.isFetching &&
    (copied === null || original.isSuccess) &&
    (!takesLines || lines.isSuccess);
  const isShown = useShownOnce(isReady);
  const from = useListState();
  const navigate = useNavigate();
  const [kept, setKept] = useState<ReadonlySet<string>>(() => new Set(Object.keys(from.kept ?? {})));
  const list = panelPath(address.porch, address.panel) + (from.list ?? "");
  if (!panel.canAdd)
    return (
      <Notice title={`No ${panel.recordLabel} can be added here.`}>
        These records can be looked at here, and not changed. The panel’s set-up says why.
      </Notice>
    );
  if (lines.isError) return <Failure error={lines.error} onRetry={() => void lines.refetch()} />;
  if (original.isError) return <Failure error={original.error} onRetry={() => void original.refetch()} />;
  if (!isShown && (proposed.isFetching || original.isFetching || lines.isFetching))
    return <Loading what="the next number" />;
  if (!proposed.data) return <Failure error={proposed.error} onRetry={() => void proposed.refetch()} />;
  const { column, value: next } = proposed.data;
  const ofColumn = panel.columns.find((known) => known.name === of);
  const ofOne = ofColumn && value !== null ? referringValues(ofColumn, value) : bareOf<string>([]);
  const begun = bareOf([
    ...(original.data ? [] : startValues(panel)),
    ...(original.data ? valuesToCopy(panel, original.data) : []),
    ...Object.entries(ofOne),
    ...Object.entries(from.kept ?? {}),
  ]);
  return (
    <div className="grid gap-4">
      <title>{`Add ${panel.recordLabel} · ${panel.porch}`}</title>
      <h1 className="text-2xl font-semibold">
        {original.data ? `Add a copy of ${original.data.title}` : `Add ${panel.recordLabel}`}
      </h1>
      {copied === null && (
        <p className="-mt-3">
          <Link className="link text-sm" to={severalPath(address.porch, address.panel)} state={from}>
            Add several at once
          </Link>
        </p>
      )}
      {copied !== null && panel.typed.some(({ isOne }) => !isOne) && (
        <p className="-mt-3">
          <Link
            className="link text-sm"
            replace
            to={`?${new URLSearchParams({ copy: copied, ...(takesLines ? {} : { with: "all" }) }).toString()}`}
          >
            {takesLines ? "Copy it alone" : `Copy it with its ${linesOf(panel)}`}
          </Link>
        </p>
      )}
      <RecordForm
        address={address}
        panel={panel}
        record={null}
        {...(takesLines && lines.data && { begun: lines.data })}
        proposed={bareOf(column && next ? [[column, next]] : [])}
        given={begun}
        goOn="Save and add another"
        keeping={{
          columns: kept,
          turn: (name) => {
            setKept((before) => {
              const after = new Set(before);
              if (!after.delete(name)) after.add(name);
              return after;
            });
          },
        }}
        onSaved={(saved, goesOn) => {
          if (goesOn) {
            const values = bareOf([...kept].map((name) => [name, saved?.values[name] ?? ""] as const));
            void navigate(`${panelPath(address.porch, address.panel)}/new${of ? `?${paramsOf(of, value)}` : ""}`, {
              state: { list: from.list, row: from.row, kept: values, ...afterSaving },
              replace: true,
            });
          } else {
            void navigate(saved ? recordPath(address.porch, address.panel, saved.key) : list, {
              state: { list: from.list, row: from.row, ...afterSaving },
              replace: true,
            });
          }
        }}
        onCancel={() => void navigate(list, { state: from, replace: true })}
      />
    </div>
  );
}

const linesOf = (panel: Panel) =>
  panel.typed
    .filter(({ isOne }) => !isOne)
    .map(({ label }) => label.toLowerCase())
    .join(" and ");

const paramsOf = (of: string, value: string | null) => new URLSearchParams({ of, value: value ?? "" }).toString();
