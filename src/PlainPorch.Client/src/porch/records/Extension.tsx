import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, type RefObject } from "react";
import { bareOf } from "../../api/bare";
import type { Column, Panel, RecordView } from "../../api/client";
import { defaultView } from "../../api/listView";
import { listQuery, nextNumberQuery, panelQuery, recordQuery, type PanelAddress } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { Field } from "../../ui/Field";
import { Loading } from "../../ui/Loading";
import { unreadableIn } from "../../values/unreadable";
import { startValues } from "./beginning";
import { columnsOf, nameOf, refusedAt, type FormParts, type Typed } from "./belonging";
import { FieldInput } from "./FieldInput";
import { FormSection, placeOf } from "./FormSection";
import { useKeptTyping } from "./useKeptTyping";
import { settleAll, type Unsettled } from "./useLookup";
import { useRecordDraft } from "./useRecordDraft";
import { inputHint } from "./ValueInput";

interface ExtensionProps {
  porch: string;
  typed: Typed;
  /** The record that it extends; null while that is being added. */
  record: RecordView | null;
  /** Where what is typed is kept; null for nowhere. */
  place: string | null;
  isNarrow: boolean;
  parts: RefObject<FormParts>;
  refused: Record<string, string>;
  onTyped: (name: string, isTyped: boolean) => void;
}

/** The one record of another panel that extends this one, as a part of the same form. */
export function Extension(props: ExtensionProps) {
  const { typed, record, porch } = props;
  const address = { porch, panel: typed.panel };
  const value = record?.values[typed.key] ?? null;
  const panel = useQuery(panelQuery(address));
  const numbered = useQuery(nextNumberQuery(address));
  const list = useQuery({
    ...listQuery(address, { ...defaultView, size: 25, of: typed.column, value: value ?? "" }),
    enabled: value !== null,
    staleTime: Infinity,
    gcTime: 0,
  });
  const key = list.data?.rows[0]?.key ?? null;
  const own = useQuery({
    ...recordQuery(address, key ?? ""),
    queryKey: ["editing", porch, typed.panel, key ?? ""],
    enabled: key !== null,
    staleTime: Infinity,
    gcTime: 0,
  });
  const error = panel.error ?? numbered.error ?? list.error ?? own.error;
  if (error) return <Failure error={error} />;
  if (!panel.data || !numbered.data || (value !== null && !list.data) || (key !== null && !own.data))
    return <Loading what={typed.label} />;
  return (
    <Fields
      {...props}
      address={address}
      panel={panel.data}
      columns={columnsOf(panel.data, typed, numbered.data.column)}
      own={own.data ?? null}
    />
  );
}

interface FieldsProps extends ExtensionProps {
  address: PanelAddress;
  panel: Panel;
  columns: Column[];
  /** The extending record; null where there is none yet. */
  own: RecordView | null;
}

function Fields({ address, panel, columns, own, typed, place, isNarrow, parts, refused, onTyped }: FieldsProps) {
  const name = nameOf(typed);
  const draft = useRecordDraft(columns, own, bareOf<string>([]), own ? undefined : bareOf(startValues(panel)));
  const kept = useKeptTyping(place, columns, draft);
  const unsettled = useRef<Unsettled>(new Map());
  const box = useRef<HTMLDivElement>(null);
  const errors = refusedAt(refused, name, own ? "changed.0" : "added.0");
  // What a new one begins with is no reason for it to be there.
  const isTyped = own ? draft.isDirty : draft.touched.length > 0;
  useEffect(() => {
    onTyped(name, isTyped);
  }, [name, isTyped, onTyped]);
  useEffect(() => {
    const { current } = parts;
    current.set(name, {
      settle: async () => (await settleAll(unsettled.current)) === null,
      read: () => {
        if (unreadableIn(box.current).size > 0) return "wrong";
        if (!isTyped) return null;
        const { panel: slug, column } = typed;
        return own
          ? {
              panel: slug,
              column,
              added: null,
              changed: [{ key: own.key, version: own.version, values: draft.changes }],
            }
          : { panel: slug, column, added: [{ values: draft.changes }], changed: null };
      },
      drop: kept.drop,
    });
    return () => {
      current.delete(name);
    };
  });
  const { offer } = kept;
  useEffect(() => {
    // It was typed in the form that is offered again beside it, and belongs to that.
    offer?.take();
  }, [offer]);
  return (
    <div ref={box}>
      <FormSection section={typed.label} isNarrow={isNarrow} isFolded={false} mustBeOpen filled={0}>
        {columns
          .filter((column) => !draft.hidden.has(column.name))
          .map((column) => {
            const kind = draft.kindOf(column);
            return (
              <div key={column.name} className={isNarrow ? "min-w-0" : placeOf(column, kind)}>
                <Field
                  label={column.label}
                  needed={isTyped && column.mustBeGiven}
                  hint={inputHint(column, kind, own === null)}
                  error={errors[column.name]}
                >
                  {(slots) => (
                    <FieldInput
                      {...slots}
                      address={address}
                      column={column}
                      kind={kind}
                      typed={draft.typedOf(column)}
                      present={draft.base?.values[column.name] ?? null}
                      known={draft.base?.lookups[column.name]}
                      isNew={own === null}
                      unsettled={unsettled}
                      valueIn={draft.valueIn}
                      hasRoom
                      onType={(text) => {
                        draft.type(column, text);
                      }}
                    />
                  )}
                </Field>
              </div>
            );
          })}
      </FormSection>
      {errors[""] !== undefined && (
        <p role="alert" className="mt-2 text-sm font-medium text-danger">
          {errors[""]}
        </p>
      )}
    </div>
  );
}
