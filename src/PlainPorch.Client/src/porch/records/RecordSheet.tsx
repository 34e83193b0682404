import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { bareOf } from "../../api/bare";
import type { Panel, RecordView } from "../../api/client";
import type { ListView } from "../../api/listView";
import { aroundQuery, nextNumberQuery, recordQuery, type PanelAddress } from "../../api/queries";
import { recordPath } from "../../paths";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { startValues } from "./beginning";
import { RecordForm } from "./RecordForm";

export interface RecordSheetProps {
  address: PanelAddress;
  panel: Panel;
  /** The key of the record; null to add one. */
  recordKey: string | null;
  /** The list beside it, by which one goes on to the next. */
  view: ListView;
  /** Tells it from the one that was there before, also where both add a record. */
  number: number;
  onGo: (key: string | null) => void;
  onClose: () => void;
}

/** The form of a record at the side of its list. */
export function RecordSheet(props: RecordSheetProps) {
  const { address, panel, recordKey, onClose } = props;
  return (
    <aside
      aria-label={recordKey === null ? `Add ${panel.recordLabel}` : `Edit ${panel.recordLabel}`}
      className="sticky top-4 max-h-[calc(100dvh-2rem)] overflow-y-auto border-l-4 border-line pl-4"
    >
      <div className="mb-2 flex items-start justify-end gap-2">
        {recordKey !== null && (
          <Link className="link mr-auto text-sm" to={recordPath(address.porch, address.panel, recordKey)}>
            Open its page
          </Link>
        )}
        <Button aria-label="Close" title="Close (Escape)" className="px-2" onClick={onClose}>
          ✕
        </Button>
      </div>
      {recordKey === null ? (
        <Adding key={props.number} {...props} />
      ) : (
        <Editing key={recordKey} {...props} recordKey={recordKey} />
      )}
    </aside>
  );
}

function Adding({ address, panel, onGo, onClose }: RecordSheetProps) {
  const proposed = useQuery({ ...nextNumberQuery(address), gcTime: 0, staleTime: 0 });
  if (proposed.isFetching) return <Loading what="the next number" />;
  if (!proposed.data) return <Failure error={proposed.error} onRetry={() => void proposed.refetch()} />;
  const { column, value } = proposed.data;
  return (
    <>
      <h2 className="mb-3 text-xl font-semibold">Add {panel.recordLabel}</h2>
      <RecordForm
        address={address}
        panel={panel}
        record={null}
        isNarrow
        proposed={bareOf(column && value ? [[column, value]] : [])}
        given={bareOf(startValues(panel))}
        goOn="Save and add another"
        onSaved={(_, goesOn) => {
          if (goesOn) onGo(null);
          else onClose();
        }}
        onCancel={onClose}
      />
    </>
  );
}

function Editing({ address, panel, recordKey, view, onGo, onClose }: RecordSheetProps & { recordKey: string }) {
  // As on the form's own page: what changes meanwhile must not take away what is being typed.
  const record = useQuery({
    ...recordQuery(address, recordKey),
    queryKey: ["editing", address.porch, address.panel, recordKey],
    staleTime: Infinity,
    gcTime: 0,
  });
  const around = useQuery({
    ...aroundQuery(address, recordKey, view),
    queryKey: ["editing", address.porch, address.panel, recordKey, "around", "sheet"],
    staleTime: Infinity,
    gcTime: 0,
  });
  if (record.isPending) return <Loading what={panel.recordLabel} />;
  if (!record.data) return <Failure error={record.error} onRetry={() => void record.refetch()} />;
  // As long as the list's neighbours are not known there may be a next one; after saving it is waited for.
  const mayGoOn = around.data ? around.data.next !== null : !around.isError;
  return (
    <>
      <h2 className="mb-3 text-xl font-semibold">{record.data.title}</h2>
      <RecordForm
        address={address}
        panel={panel}
        record={record.data}
        isNarrow
        goOn={mayGoOn ? "Save and next" : undefined}
        onSaved={(_: RecordView | null, goesOn) => {
          void (async () => {
            const place = goesOn ? (around.data ?? (await around.refetch()).data) : null;
            if (place?.next) onGo(place.next);
            else onClose();
          })();
        }}
        onCancel={onClose}
      />
    </>
  );
}
