import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { PanelDefinition, Schemas } from "../../api/client";
import { panelQuery } from "../../api/queries";
import { ColumnPicker, Step } from "../../porch/query/ColumnPicker";
import { OrderEditor } from "../../porch/query/OrderEditor";
import { moved } from "../../porch/query/table/columns";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { PopoverPanel } from "../../ui/PopoverPanel";
import { Button } from "../../ui/Button";
import { Tick } from "../../ui/Tick";

type Related = Schemas["RelatedRecords"];

interface RelatedSetupProps {
  /** The porch's slug. */
  porch: string;
  definition: PanelDefinition;
  setup: Schemas["PanelSetupDto"];
  error: string | undefined;
  onChange: (part: Partial<PanelDefinition>) => void;
}

const isSame = (one: Related, other: Related) => one.panel === other.panel && one.column === other.column;

/** Which records of other panels stand with a record, in which order, and how each kind is shown. */
export function RelatedSetup({ porch, definition, setup, error, onChange }: RelatedSetupProps) {
  const related = definition.related ?? [];
  const others = setup.related.filter((one) => !related.some((known) => isSame(known, one)));
  if (related.length + others.length === 0) return null;
  const put = (place: number, part: Partial<Related>) => {
    onChange({ related: related.map((one, at) => (at === place ? { ...one, ...part } : one)) });
  };
  return (
    <fieldset className="grid gap-1">
      <legend className="text-sm font-medium">Related records shown with a record</legend>
      {related.map((one, place) => (
        <div key={`${one.panel} ${one.column}`} className="flex flex-wrap items-center gap-x-6">
          <Tick
            label={one.label}
            isOn
            onTurn={() => {
              onChange({ related: related.filter((_, at) => at !== place) });
            }}
          />
          {!one.through && (
            <Tick
              isSmall
              label="typed in the same form"
              isOn={one.inForm ?? false}
              onTurn={(inForm) => {
                put(place, { inForm });
              }}
            />
          )}
          <Tick
            isSmall
            label="as a list to work in"
            isOn={one.asList ?? false}
            onTurn={(asList) => {
              put(place, { asList });
            }}
          />
          <KindList
            porch={porch}
            kind={one}
            onChange={(part) => {
              put(place, part);
            }}
          />
          {related.length > 1 && (
            <span>
              <Step
                label={`Move ${one.label} up`}
                sign="↑"
                isOff={place === 0}
                onStep={() => {
                  onChange({ related: moved(related, place, place - 1) });
                }}
              />
              <Step
                label={`Move ${one.label} down`}
                sign="↓"
                isOff={place === related.length - 1}
                onStep={() => {
                  onChange({ related: moved(related, place, place + 1) });
                }}
              />
            </span>
          )}
        </div>
      ))}
      {others.map((one) => (
        <Tick
          key={`${one.panel} ${one.column}`}
          label={one.label}
          isOn={false}
          onTurn={() => {
            onChange({ related: [...related, one] });
          }}
        />
      ))}
      {related.length > 1 && (
        <Tick
          label="One kind at a time, chosen by tabs"
          isOn={definition.relatedAsTabs ?? false}
          onTurn={(relatedAsTabs) => {
            onChange({ relatedAsTabs });
          }}
        />
      )}
      {error && <p className="text-sm text-danger">{error}</p>}
    </fieldset>
  );
}

interface KindListProps {
  porch: string;
  kind: Related;
  onChange: (part: Partial<Related>) => void;
}

function KindList(props: KindListProps) {
  const [isOpen, setOpen] = useState(false);
  return (
    <PopoverPanel
      label={`List of ${props.kind.label}`}
      trigger={<Button>Columns and order</Button>}
      isOpen={isOpen}
      onOpenChange={setOpen}
      className="grid w-[28rem] gap-3 p-3"
    >
      <KindListChoices {...props} />
    </PopoverPanel>
  );
}

function KindListChoices({ porch, kind, onChange }: KindListProps) {
  const panel = useQuery(panelQuery({ porch, panel: kind.panel }));
  if (panel.isPending) return <Loading what={kind.label} />;
  if (!panel.data) return <Failure error={panel.error} onRetry={() => void panel.refetch()} />;
  const columns = panel.data.columns.filter((column) => column.inList || column.inForm);
  const usual = columns.filter((column) => column.inList && column.name !== kind.column).map(({ name }) => name);
  const own = kind.columns ?? [];
  return (
    <>
      <ColumnPicker
        columns={columns}
        chosen={own.length > 0 ? own : usual}
        onChoose={(names) => {
          onChange({ columns: names.join("\n") === usual.join("\n") ? [] : names });
        }}
      />
      <p className="border-t border-line pt-3 text-sm font-medium">Order</p>
      <OrderEditor
        columns={columns
          .filter((column) => column.isOrderable)
          .map(({ name, label, kind: valueKind, isNullable }) => ({
            name,
            label,
            isText: valueKind === "text",
            isNullable,
          }))}
        order={kind.sort ?? []}
        onChange={(sort) => {
          onChange({ sort });
        }}
      />
      <label className="flex items-center gap-2">
        Records on a page
        <select
          className="min-h-8 rounded border border-edge bg-sheet px-1"
          value={kind.pageSize ?? panel.data.pageSizes[0]}
          onChange={({ target }) => {
            const size = Number(target.value);
            onChange({ pageSize: size === panel.data.pageSizes[0] ? null : size });
          }}
        >
          {panel.data.pageSizes.map((size) => (
            <option key={size}>{size}</option>
          ))}
        </select>
      </label>
    </>
  );
}
