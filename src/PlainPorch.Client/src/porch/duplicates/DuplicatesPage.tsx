import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, unwrap, type Panel, type RecordView, type Schemas } from "../../api/client";
import { duplicatesQuery, type PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { formatCount, formatValue } from "../../values/format";
import { BackToList } from "../query/BackToList";
import { recordPath } from "../../paths";
import { LookupValue } from "../records/LookupValue";
import { MergeDialog } from "./MergeDialog";
import { RemovedNotice } from "../removal/RemovedNotice";
import type { Removed } from "../removal/removed";
import { WithPanel } from "../panels/usePanel";
import { bareOf, bareWith } from "../../api/bare";

export function DuplicatesPage() {
  return <WithPanel>{(address, panel) => <Duplicates address={address} panel={panel} />}</WithPanel>;
}

/** Records that are likely the same, side by side, to be made one. */
function Duplicates({ address, panel }: { address: PanelAddress; panel: Panel }) {
  const groups = useQuery(duplicatesQuery(address));
  const [merged, setMerged] = useState<Removed | null>(null);
  const [apart, setApart] = useState<RecordView[] | null>(null);
  const tell = useMutation({
    mutationFn: ({ records, areDistinct }: { records: RecordView[]; areDistinct: boolean }) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/duplicates/distinct", {
          params: { path: address },
          body: { keys: records.map((record) => record.key), areDistinct },
        }),
      ),
    onSuccess: (_, { records, areDistinct }) => {
      setApart(areDistinct ? records : null);
      void groups.refetch();
    },
  });
  return (
    <div className="grid gap-4">
      <title>{`Duplicates · ${panel.label}`}</title>
      <BackToList address={address} panel={panel} />
      <h1 className="text-2xl font-semibold">Likely duplicates in {panel.label}</h1>
      {merged && (
        <RemovedNotice
          key={merged.parcel}
          address={address}
          panel={panel}
          removed={merged}
          verb="Merged into"
          onClose={() => {
            setMerged(null);
          }}
        />
      )}
      {apart && (
        <Notice
          title={`Marked as different: ${apart.map((record) => `${record.title} (${record.key})`).join(", ")}.`}
          actions={
            <>
              <Button
                disabled={tell.isPending}
                onClick={() => {
                  tell.mutate({ records: apart, areDistinct: false });
                }}
              >
                Undo
              </Button>
              <Button
                onClick={() => {
                  setApart(null);
                }}
              >
                Close
              </Button>
            </>
          }
        >
          They will not be suggested again.
        </Notice>
      )}
      {tell.isError && <Failure error={tell.error} />}
      {groups.isPending && <Loading what="duplicates" />}
      {groups.isError && <Failure error={groups.error} onRetry={() => void groups.refetch()} />}
      {groups.data?.groups.length === 0 && <Empty title={`No two ${panel.label} look like duplicates.`} />}
      {groups.data?.groups.map((group) => (
        <Group
          key={group.records.map((record) => record.key).join(" ")}
          address={address}
          panel={panel}
          records={group.records}
          onMerged={setMerged}
          onDistinct={(records) => {
            tell.mutate({ records, areDistinct: true });
          }}
        />
      ))}
      {groups.data?.hasMore && <p className="text-faint">There are more. They appear once these are settled.</p>}
    </div>
  );
}

interface GroupProps {
  address: PanelAddress;
  panel: Panel;
  records: RecordView[];
  onMerged: (merged: Removed) => void;
  /** Told that the records are not the same. */
  onDistinct: (records: RecordView[]) => void;
}

function Group({ address, panel, records, onMerged, onDistinct }: GroupProps) {
  const [survivor, setSurvivor] = useState(records[0]?.key ?? "");
  const [left, setLeft] = useState<string[]>([]);
  const [values, setValues] = useState(() => bareOf<string>([]));
  const taken = records.filter((record) => record.key === survivor || !left.includes(record.key));
  const others = taken.filter((record) => record.key !== survivor);
  const columns = panel.columns.filter(
    (column) =>
      column.inForm &&
      column.kind !== "binary" &&
      records.some((record) => (record.values[column.name] ?? "") !== (records[0]?.values[column.name] ?? "")),
  );
  const canTake = (column: Schemas["ColumnDto"]) => column.isWritable && !panel.identity.includes(column.name);
  const sourceOf = (name: string) => {
    const chosen = values[name];
    return chosen !== undefined && taken.some((record) => record.key === chosen) ? chosen : survivor;
  };
  const [isAsking, setAsking] = useState(false);
  const wish = {
    survivor,
    others: others.map((record) => record.key),
    values: bareOf(
      columns
        .filter((column) => canTake(column) && sourceOf(column.name) !== survivor)
        .map((column) => [column.name, sourceOf(column.name)] as const),
    ),
  };
  return (
    <section aria-label={records[0]?.title} className="grid gap-2 border-t border-line pt-3">
      <div className="overflow-x-auto">
        <table className="border-collapse text-[15px]">
          <thead>
            <tr className="text-left align-top">
              <th scope="col" className="pr-4 font-sans text-sm font-semibold text-faint">
                Stays
              </th>
              {records.map((record) => (
                <th key={record.key} scope="col" className="min-w-44 border-b border-line px-3 py-1 font-normal">
                  <label className="flex items-center gap-2 font-semibold">
                    <input
                      type="radio"
                      className="size-4 accent-accent"
                      aria-label={`${record.title} (${record.key}) stays`}
                      checked={record.key === survivor}
                      onChange={() => {
                        setSurvivor(record.key);
                      }}
                    />
                    {record.title}
                  </label>
                  <Link to={recordPath(address.porch, address.panel, record.key)} className="text-sm link">
                    {panel.recordLabel} {record.key}
                  </Link>
                  {records.length > 2 && record.key !== survivor && (
                    <label className="mt-1 flex items-center gap-2 text-sm">
                      <input
                        type="checkbox"
                        className="size-4 accent-accent"
                        checked={!left.includes(record.key)}
                        onChange={() => {
                          setLeft((before) =>
                            before.includes(record.key)
                              ? before.filter((key) => key !== record.key)
                              : [...before, record.key],
                          );
                        }}
                      />
                      is merged into it
                    </label>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {columns.map((column) => (
              <tr key={column.name} className="border-b border-line align-top">
                <th scope="row" className="py-1 pr-4 text-left font-normal text-faint">
                  {column.label}
                </th>
                {records.map((record) => {
                  const value = record.values[column.name] ?? null;
                  const shown =
                    column.isLookup && value !== null ? (
                      <LookupValue porch={address.porch} title={record.lookups[column.name]} value={value} />
                    ) : (
                      formatValue(column, value) || <span className="text-faint">–</span>
                    );
                  return (
                    <td key={record.key} className="px-3 py-1">
                      {canTake(column) && taken.includes(record) ? (
                        <label className="flex items-start gap-2">
                          <input
                            type="radio"
                            className="mt-1 size-4 shrink-0 accent-accent"
                            aria-label={`${column.label} of ${record.title} (${record.key})`}
                            checked={sourceOf(column.name) === record.key}
                            onChange={() => {
                              setValues((before) => bareWith(before, column.name, record.key));
                            }}
                          />
                          <span>{shown}</span>
                        </label>
                      ) : (
                        shown
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <Button
          tone="next"
          disabled={others.length === 0}
          onClick={() => {
            setAsking(true);
          }}
        >
          Merge …
        </Button>
        <Button
          onClick={() => {
            onDistinct(taken);
          }}
        >
          {taken.length === 2 ? "These two are different" : "These are all different"}
        </Button>
        <p className="text-sm text-faint">
          What refers to {others.length === 1 ? "the other" : `the other ${formatCount(others.length)}`} will refer to
          the one that stays; the rest is set aside, and all of it can be brought back.
        </p>
      </div>
      {isAsking && (
        <MergeDialog
          address={address}
          panel={panel}
          wish={wish}
          onMerged={onMerged}
          onClose={() => {
            setAsking(false);
          }}
        />
      )}
    </section>
  );
}
