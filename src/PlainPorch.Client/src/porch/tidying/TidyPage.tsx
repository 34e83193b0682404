import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { useSearchParams } from "react-router";
import type { Panel } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { inputClass } from "../../ui/Field";
import { Loading } from "../../ui/Loading";
import { BackToList } from "../query/BackToList";
import { WithPanel } from "../panels/usePanel";
import { ChangedNotice, type Changed } from "../query/table/ChangedNotice";
import { spellingsQuery, tidyColumnsQuery } from "./queries";
import { Spellings } from "./Spellings";

export function TidyPage() {
  return <WithPanel>{(address, panel) => <Tidy address={address} panel={panel} />}</WithPanel>;
}

/** Makes the many spellings of one value one, and gives values that do not fit what their column means a meaning. */
function Tidy({ address, panel }: { address: PanelAddress; panel: Panel }) {
  const id = useId();
  const [params, setParams] = useSearchParams();
  const columns = useQuery(tidyColumnsQuery(address));
  const chosen = columns.data?.find((one) => one.name === params.get("column"));
  return (
    <div className="grid gap-4">
      <title>{`Tidy values · ${panel.label}`}</title>
      <BackToList address={address} panel={panel} />
      <h1 className="text-2xl font-semibold">Tidy values of {panel.label}</h1>
      {columns.isPending && <Loading what="the columns" />}
      {columns.isError && <Failure error={columns.error} onRetry={() => void columns.refetch()} />}
      {columns.data?.length === 0 && (
        <Empty title={`${panel.label} has no columns that can be tidied.`}>
          Only texts that people type, and values that do not fit what their column means, can be.
        </Empty>
      )}
      {columns.data && columns.data.length > 0 && (
        <div className="flex flex-wrap items-center gap-2">
          <label htmlFor={id} className="font-medium">
            Column
          </label>
          <select
            id={id}
            className={`${inputClass} max-w-72`}
            value={chosen?.name ?? ""}
            onChange={(event) => {
              setParams({ column: event.target.value }, { replace: true });
            }}
          >
            <option value="">Choose one</option>
            {columns.data.map((one) => (
              <option key={one.name} value={one.name}>
                {one.label}
                {one.unfitOnly ? " (what does not fit)" : ""}
              </option>
            ))}
          </select>
        </div>
      )}
      {chosen && <OfColumn key={chosen.name} address={address} panel={panel} name={chosen.name} />}
    </div>
  );
}

function OfColumn({ address, panel, name }: { address: PanelAddress; panel: Panel; name: string }) {
  const found = useQuery(spellingsQuery(address, name));
  const [changed, setChanged] = useState<Changed | null>(null);
  const column = panel.columns.find((one) => one.name === name);
  if (found.isPending) return <Loading what="the values" />;
  if (found.isError) return <Failure error={found.error} onRetry={() => void found.refetch()} />;
  if (!column) return null;
  return (
    <>
      {changed && (
        <ChangedNotice
          key={changed.entry}
          address={address}
          changed={changed}
          onUndone={() => void found.refetch()}
          onClose={() => {
            setChanged(null);
          }}
        />
      )}
      {/* What was typed belongs to what was read; after a change both begin anew. */}
      <Spellings
        key={found.dataUpdatedAt}
        address={address}
        panel={panel}
        column={column}
        found={found.data}
        onChanged={(done) => {
          setChanged({ ...done, label: column.label });
          void found.refetch();
        }}
      />
    </>
  );
}
