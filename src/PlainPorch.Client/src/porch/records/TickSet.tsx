import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { newOnceKey } from "../../api/acts";
import { bareOf } from "../../api/bare";
import { api, ifMatch, once, unwrap, type Column, type Panel, type RecordView, type Schemas } from "../../api/client";
import { defaultView } from "../../api/listView";
import { ApiError } from "../../api/problems";
import { choicesQuery, listQuery, panelQuery, type PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { DialogFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { inputClass } from "../../ui/Field";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { useSettled } from "../../ui/useSettled";
import { formatCount } from "../../values/format";
import { inputKind } from "../../values/input";
import { unreadableIn } from "../../values/unreadable";
import { RemovalDialog } from "../removal/RemovalDialog";
import { refusedAt } from "./belonging";
import { FieldInput } from "./FieldInput";
import { ownColumns, shownIn, tickedRows, toSave, type TickRow, type TickTyping } from "./tickSet";
import type { Unsettled } from "./useLookup";

const SIZE = 100;
const PAUSE_MS = 150;

interface TickSetProps {
  /** The record's own panel. */
  address: PanelAddress;
  record: RecordView;
  list: Schemas["RelatedList"] & { through: string };
  onClose: () => void;
}

/** The records of the other side of a many-to-many set, to search and tick, with the joining table's own columns at hand. */
export function TickSet(props: TickSetProps) {
  const { address, list, onClose } = props;
  const joining = { porch: address.porch, panel: list.panel };
  const panel = useQuery(panelQuery(joining));
  const [unsaved, setUnsaved] = useState(0);
  const [isLeaving, setLeaving] = useState(false);
  const leave = () => {
    if (unsaved > 0 && !isLeaving) setLeaving(true);
    else onClose();
  };
  return (
    <DialogFrame title={`${list.label} of ${props.record.title}`} isWide onOpenChange={leave}>
      {isLeaving && unsaved > 0 && (
        <Notice
          tone="danger"
          title={`${formatCount(unsaved)} ${unsaved === 1 ? "change is" : "changes are"} not saved.`}
          actions={
            <>
              <Button
                autoFocus
                onClick={() => {
                  setLeaving(false);
                }}
              >
                Stay
              </Button>
              <Button onClick={onClose}>Discard</Button>
            </>
          }
        />
      )}
      {panel.isPending && <Loading what={list.label} />}
      {panel.isError && <Failure error={panel.error} onRetry={() => void panel.refetch()} />}
      {panel.data && <Ticks {...props} joining={joining} panel={panel.data} onUnsaved={setUnsaved} onLeave={leave} />}
    </DialogFrame>
  );
}

interface TicksProps extends TickSetProps {
  joining: PanelAddress;
  panel: Panel;
  /** Is told how many changes are not saved. */
  onUnsaved: (count: number) => void;
  onLeave: () => void;
}

function Ticks({ address, record, list, joining, panel, onClose, onUnsaved, onLeave }: TicksProps) {
  const { through } = list;
  const columns = ownColumns(panel, list.column, through);
  const [search, setSearch] = useState("");
  const text = useSettled(search.trim(), PAUSE_MS);
  const present = useQuery({
    ...listQuery(joining, {
      ...defaultView,
      size: SIZE,
      of: list.column,
      value: list.value,
      columns: [through, ...columns.map(({ name }) => name)],
    }),
    // What is being ticked must not change under the hand.
    staleTime: Infinity,
    gcTime: 0,
  });
  const choices = useQuery(choicesQuery(joining, through, text));
  const [typing, setTyping] = useState<ReadonlyMap<string, TickTyping>>(new Map());
  // What was ticked stays in sight, whatever is searched for then.
  const [met, setMet] = useState<TickRow[]>([]);
  const [removing, setRemoving] = useState<TickRow[] | null>(null);
  const [isUnreadable, setUnreadable] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  const key = useRef(newOnceKey());
  const changed = useRecordsChanged();

  const joined = present.data ? tickedRows(present.data, through) : [];
  const known = new Set([...joined, ...met].map(({ value }) => value));
  const offered = (choices.data?.choices ?? [])
    .filter(({ value }) => !known.has(value))
    .map(({ value, title }): TickRow => ({ value, title, joined: null }));
  const matches = ({ title }: TickRow) => title.toLowerCase().includes(text.toLowerCase());
  const rows = [...joined, ...met, ...offered];
  const isOn = (row: TickRow) => typing.get(row.value)?.isOn ?? row.joined !== null;
  const work = toSave(rows, typing, columns, through);
  const count = work.added.length + work.changed.length + work.removed.length;

  useEffect(() => {
    onUnsaved(count);
  }, [count, onUnsaved]);

  const set = (row: TickRow, part: Partial<TickTyping>) => {
    setTyping((before) => {
      const now = before.get(row.value) ?? { isOn: row.joined !== null, typed: {} };
      return new Map(before).set(row.value, { ...now, ...part });
    });
    if (row.joined === null)
      setMet((before) => (before.some(({ value }) => value === row.value) ? before : [...before, row]));
    key.current = newOnceKey();
  };

  const save = useMutation({
    mutationFn: async () => {
      if (work.added.length + work.changed.length === 0) return;
      await unwrap(
        api.PUT("/api/porches/{porch}/panels/{panel}/records/{key}", {
          params: {
            path: { ...address, key: record.key },
            header: { ...ifMatch(record.version), ...once(key.current) },
          },
          body: {
            values: {},
            belonging: [{ panel: list.panel, column: list.column, added: work.added, changed: work.changed }],
          },
        }),
      );
    },
    onSuccess: async () => {
      if (work.removed.length > 0) {
        setRemoving(work.removed);
        return;
      }
      await changed(address.porch);
      onClose();
    },
  });
  const refused = save.error instanceof ApiError ? save.error.fields : bareOf<string>([]);
  const name = `${list.panel}.${list.column}`;
  const errorsOf = (row: TickRow) => {
    const isAdded = row.joined === null;
    const at = isAdded
      ? work.added.findIndex((one) => one.values[through] === row.value)
      : work.changed.findIndex((one) => one.key === row.joined?.key);
    return at < 0 ? {} : refusedAt(refused, name, `${isAdded ? "added" : "changed"}.${at}`);
  };
  const submit = () => {
    const isWrong = unreadableIn(box.current).size > 0;
    setUnreadable(isWrong);
    if (!isWrong && !save.isPending) save.mutate();
  };

  if (removing)
    return (
      <RemovalDialog
        address={joining}
        panel={panel}
        keys={removing.flatMap((row) => (row.joined ? [row.joined.key] : []))}
        onRemoved={() => {
          onClose();
        }}
        onClose={() => {
          void changed(address.porch);
          onClose();
        }}
      />
    );
  return (
    <div
      ref={box}
      className="mt-3 grid gap-3"
      onKeyDown={(event) => {
        if (!(event.ctrlKey || event.metaKey) || (event.key !== "s" && event.key !== "Enter")) return;
        event.preventDefault();
        event.stopPropagation();
        submit();
      }}
    >
      <input
        aria-label="Search"
        placeholder="Search"
        className={`${inputClass} max-w-80`}
        value={search}
        autoFocus
        onChange={(event) => {
          setSearch(event.target.value);
        }}
      />
      {(present.isError || choices.isError) && <Failure error={present.error ?? choices.error} />}
      {save.isError && Object.keys(refused).length === 0 && <Failure error={save.error} />}
      {isUnreadable && <Notice tone="danger" title="A date or a number is not one yet. Correct it." />}
      {present.data && present.data.rows.length === SIZE && (
        <p className="text-sm text-faint">The first {SIZE} that are ticked are shown. “Work here” shows all.</p>
      )}
      <div className="max-h-[50dvh] overflow-auto border border-line">
        <table className="w-full border-collapse text-[15px]">
          <thead className="sticky top-0 z-1 bg-sheet">
            <tr className="border-b border-edge text-left text-sm text-faint">
              <th className="w-10" />
              <th scope="col" className="px-2 py-1.5 font-medium">
                {list.label}
              </th>
              {columns.map((column) => (
                <th key={column.name} scope="col" className="min-w-28 px-2 py-1.5 font-medium">
                  {column.label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows
              .filter((row) => matches(row) || offered.includes(row) || typing.has(row.value))
              .map((row) => (
                <TickLine
                  key={row.value}
                  joining={joining}
                  columns={columns}
                  row={row}
                  isOn={isOn(row)}
                  typing={typing.get(row.value)}
                  errors={errorsOf(row)}
                  onTurn={(on) => {
                    set(row, { isOn: on });
                  }}
                  onType={(column, typed) => {
                    // Whoever types how many means that it is there.
                    set(row, { isOn: true, typed: { ...typing.get(row.value)?.typed, [column]: typed } });
                  }}
                />
              ))}
          </tbody>
        </table>
        {choices.data?.hasMore && (
          <p className="px-2 py-1.5 text-sm text-faint">There are more. Search for a part of the name.</p>
        )}
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <Button tone="next" disabled={count === 0 || save.isPending} onClick={submit}>
          {save.isPending ? "Saving …" : "Save"}
        </Button>
        <Button onClick={onLeave}>Cancel</Button>
        <span role="status" className="text-sm text-faint">
          {says(work.added.length, work.changed.length, work.removed.length)}
        </span>
      </div>
    </div>
  );
}

function says(added: number, changed: number, removed: number): string {
  return [
    added > 0 ? `${formatCount(added)} to add` : "",
    changed > 0 ? `${formatCount(changed)} to change` : "",
    removed > 0 ? `${formatCount(removed)} to remove` : "",
  ]
    .filter((part) => part !== "")
    .join(", ");
}

interface TickLineProps {
  joining: PanelAddress;
  columns: Column[];
  row: TickRow;
  isOn: boolean;
  typing: TickTyping | undefined;
  errors: Record<string, string>;
  onTurn: (isOn: boolean) => void;
  onType: (column: string, typed: string) => void;
}

function TickLine({ joining, columns, row, isOn, typing, errors, onTurn, onType }: TickLineProps) {
  const unsettled = useRef<Unsettled>(new Map());
  const elsewhere = Object.entries(errors)
    .filter(([column]) => !columns.some(({ name }) => name === column))
    .map(([, message]) => message);
  return (
    <tr className="border-b border-line align-top last:border-0">
      <td className="px-2 py-1.5 text-center">
        <input
          type="checkbox"
          className="size-5 accent-accent"
          aria-label={row.title}
          checked={isOn}
          onChange={({ target }) => {
            onTurn(target.checked);
          }}
        />
      </td>
      <td className="px-2 py-1.5">
        {row.title}
        {elsewhere.length > 0 && (
          <p role="alert" className="text-sm text-danger">
            {elsewhere.join(" ")}
          </p>
        )}
      </td>
      {columns.map((column) => (
        <td key={column.name} className={`p-0.5 ${isOn ? "" : "opacity-60"}`}>
          <FieldInput
            id={`tick-${row.value}-${column.name}`}
            aria-label={`${column.label}, ${row.title}`}
            aria-invalid={errors[column.name] ? true : undefined}
            aria-describedby={undefined}
            address={joining}
            column={column}
            kind={inputKind(column, row.joined?.values[column.name] ?? null)}
            typed={shownIn(row, typing, column)}
            present={row.joined?.values[column.name] ?? null}
            known={undefined}
            isNew={row.joined === null}
            unsettled={unsettled}
            onType={(text) => {
              onType(column.name, text);
            }}
          />
          {errors[column.name] && (
            <p role="alert" className="px-1 text-sm text-danger">
              {errors[column.name]}
            </p>
          )}
        </td>
      ))}
    </tr>
  );
}
