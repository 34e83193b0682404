import { useQuery } from "@tanstack/react-query";
import type { SyntheticEvent } from "react";
import { bareOf } from "../../api/bare";
import type { Panel, Schemas } from "../../api/client";
import { nextNumberQuery, panelQuery } from "../../api/queries";
import { DialogFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { inputKind } from "../../values/input";
import type { AddTargetProps } from "./addingTarget";
import { startValues } from "./beginning";
import { RecordForm } from "./RecordForm";

/** Adds a record that a lookup wants to refer to, without leaving the form. */
export function AddTarget({ porch, target, typed, onClose }: AddTargetProps) {
  const address = { porch, panel: target.panel };
  const panel = useQuery(panelQuery(address));
  const proposed = useQuery(nextNumberQuery(address));
  const isReady = panel.data && proposed.data && !proposed.isFetching;
  const error = panel.error ?? proposed.error;
  return (
    // The form around it must not take this one's keys and its sending for its own.
    <div onKeyDown={stop} onSubmit={stop} onFocus={stop} onBlur={stop} onClick={stop} onMouseDown={stop}>
      <DialogFrame
        isWide
        title={`Add ${target.recordLabel}`}
        onOpenChange={() => {
          onClose(null);
        }}
      >
        <div className="mt-4">
          {error && <Failure error={error} />}
          {!isReady && !error && <Loading what={target.recordLabel} />}
          {isReady && (
            <RecordForm
              address={address}
              panel={panel.data}
              record={null}
              isNested
              proposed={bareOf(
                proposed.data.column && proposed.data.value ? [[proposed.data.column, proposed.data.value]] : [],
              )}
              given={bareOf([
                ...startValues(panel.data),
                ...nameOf(panel.data, target, typed),
                ...(target.column !== null && target.value !== null ? [[target.column, target.value] as const] : []),
              ])}
              onSaved={(saved) => {
                onClose(saved?.values[target.key] ?? null);
              }}
              onCancel={() => {
                onClose(null);
              }}
            />
          )}
        </div>
      </DialogFrame>
    </div>
  );
}

const stop = (event: SyntheticEvent) => {
  event.stopPropagation();
};

/** The first text that a person types, which is what records are mostly called by. */
function nameOf(panel: Panel, target: Schemas["NewTarget"], typed: string): (readonly [string, string])[] {
  if (typed === "" || /^\d+$/.test(typed)) return [];
  const named = panel.columns.find(
    (column) =>
      column.isWritable &&
      !column.isLookup &&
      column.name !== target.column &&
      column.name !== target.key &&
      ["line", "paragraph"].includes(inputKind(column, null)),
  );
  return named ? [[named.name, typed]] : [];
}
