import { useQuery } from "@tanstack/react-query";
import { useState, type KeyboardEvent } from "react";
import { useNavigate, useParams } from "react-router";
import type { Panel, RecordView } from "../../api/client";
import { recordQuery, type PanelAddress } from "../../api/queries";
import { Button, ButtonLink } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { Above } from "./Above";
import { BackToList } from "../query/BackToList";
import { useListState } from "../query/listState";
import { panelPath, recordPath } from "../../paths";
import { WithPanel } from "../panels/usePanel";
import { RelatedRecords } from "./RelatedRecords";
import { RecordHistory } from "../history/RecordHistory";
import { may } from "../panels/rights";
import { AsideNotice } from "../removal/AsideNotice";
import { RemovalDialog } from "../removal/RemovalDialog";
import { verbOf } from "../removal/words";
import { filePath } from "./files";
import { RecordFiles } from "./RecordFiles";
import { Picture } from "./Picture";
import { ValueList } from "./ValueList";
import { Walk } from "./Walk";

export function RecordPage() {
  const { key = "" } = useParams();
  return (
    <WithPanel>{(address, panel) => <OneRecord key={key} address={address} panel={panel} recordKey={key} />}</WithPanel>
  );
}

interface OneRecordProps {
  address: PanelAddress;
  panel: Panel;
  recordKey: string;
}

function OneRecord({ address, panel, recordKey }: OneRecordProps) {
  const record = useQuery(recordQuery(address, recordKey));
  const from = useListState();
  const [isRemoving, setRemoving] = useState(false);
  const list = panelPath(address.porch, address.panel) + (from.list ?? "");
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
        <BackToList address={address} panel={panel} from={from} />
        {!panel.byPlace && record.data && <Walk address={address} recordKey={recordKey} isPaused={isRemoving} />}
      </div>
      {record.isPending && <Loading what={panel.recordLabel} />}
      {record.isError && (
        <AsideNotice
          address={address}
          panel={panel}
          recordKey={recordKey}
          otherwise={<Failure error={record.error} onRetry={() => void record.refetch()} />}
        />
      )}
      {record.data && (
        <Reading
          address={address}
          panel={panel}
          record={record.data}
          list={list}
          isRemoving={isRemoving}
          setRemoving={setRemoving}
        />
      )}
    </div>
  );
}

interface ReadingProps {
  address: PanelAddress;
  panel: Panel;
  record: RecordView;
  list: string;
  isRemoving: boolean;
  setRemoving: (isRemoving: boolean) => void;
}

function Reading({ address, panel, record, list, isRemoving, setRemoving }: ReadingProps) {
  const from = useListState();
  const navigate = useNavigate();
  const back = () => void navigate(list, { state: { row: from.row ?? 0 } });
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape" && !isRemoving && !event.defaultPrevented) back();
  };
  return (
    <article className="grid grid-cols-[minmax(0,1fr)] gap-4" onKeyDown={onKeyDown}>
      <title>{`${record.title} · ${panel.label}`}</title>
      <div className="flex max-w-4xl flex-wrap items-start gap-3">
        <div className="mr-auto">
          {panel.hasAbove && <Above address={address} record={record.key} label={`Above ${record.title}`} />}
          <h1 className="text-2xl font-semibold" tabIndex={-1} ref={takeFocus(!panel.canEdit)}>
            {record.title}
          </h1>
          <p className="text-faint">
            {panel.recordLabel} {!panel.byPlace && record.key}
          </p>
        </div>
        {panel.canEdit && (
          <ButtonLink
            tone="next"
            to={`${recordPath(address.porch, address.panel, record.key)}/edit`}
            state={from}
            ref={takeFocus(true)}
          >
            Edit
          </ButtonLink>
        )}
        {panel.canRemove && !record.isSetAside && (
          <Button
            onClick={() => {
              setRemoving(true);
            }}
          >
            {verbOf(panel.manner)} …
          </Button>
        )}
        {panel.canAdd && (
          <ButtonLink
            to={`${panelPath(address.porch, address.panel)}/new?${new URLSearchParams({ copy: record.key }).toString()}`}
            state={from}
          >
            Copy
          </ButtonLink>
        )}
      </div>
      {record.isSetAside && <AsideNotice address={address} panel={panel} recordKey={record.key} />}
      <div className="max-w-4xl">
        <ValueList
          porch={address.porch}
          columns={[...panel.columns.filter((column) => column.inForm), ...panel.secrets]}
          values={record.values}
          lookups={record.lookups}
          unfit={record.unfit}
          notComputed={record.notComputed}
          formatted={record.formatted}
          files={(column, value) => <RecordFiles address={address} column={column} record={record} value={value} />}
          fileOf={(column) => filePath(address, record.key, column.name)}
          picture={(column, bytes) => (
            <Picture
              address={address}
              record={record.key}
              title={record.title}
              column={column}
              bytes={bytes}
              size={400}
              version={record.version}
            />
          )}
        />
      </div>
      {panel.related.length > 0 && (
        <RelatedRecords address={address} record={record} canChange={panel.canEdit} asTabs={panel.relatedAsTabs} />
      )}
      {!panel.byPlace && may(panel, "seeHistory") && (
        <div className="max-w-4xl">
          <RecordHistory address={address} panel={panel} record={record} />
        </div>
      )}
      {isRemoving && (
        <RemovalDialog
          address={address}
          panel={panel}
          keys={[record.key]}
          onClose={() => {
            setRemoving(false);
          }}
          onRemoved={(removed) => {
            void navigate(list, { state: { row: from.row ?? 0, removed } });
          }}
        />
      )}
    </article>
  );
}

// The page's next step takes the focus, so that Enter goes on and Escape goes back.
function takeFocus(wanted: boolean) {
  return (element: HTMLElement | null) => {
    if (wanted && document.activeElement === document.body) element?.focus();
  };
}
