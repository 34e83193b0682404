import { useQuery } from "@tanstack/react-query";
import type { PanelColumn, Schemas } from "../../api/client";
import { tableQuery } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Tick } from "../../ui/Tick";
import { Choice } from "./Choice";

interface LookupSetupProps {
  /** Whether the records referred to are of the panel's own table. */
  isOwn: boolean;
  sourceId: number;
  lookup: Schemas["Lookup"];
  /** The other columns of the panel's own table. */
  own: Pick<PanelColumn, "name" | "label">[];
  onChange: (lookup: Schemas["Lookup"]) => void;
}

const MOST = 3;

/** Which records a lookup offers, and by what people recognize them there. */
export function LookupSetup({ sourceId, lookup, own, isOwn, onChange }: LookupSetupProps) {
  const target = useQuery(tableQuery(sourceId, lookup.table.schema, lookup.table.name));
  const columns = (target.data?.columns ?? []).map(({ name }) => ({ value: name, label: name }));
  const within = lookup.within ?? [];
  const set = (at: number, part: Partial<Schemas["LookupRestriction"]> | null) => {
    onChange({
      ...lookup,
      within: within.flatMap((one, i) => (i !== at ? [one] : part === null ? [] : [{ ...one, ...part }])),
    });
  };
  return (
    <fieldset className="grid gap-3 border-t border-line pt-2">
      <legend className="pr-2 text-sm font-medium">Which records it offers</legend>
      {within.map((restriction, at) => (
        <div key={restriction.column} className="grid items-end gap-3 sm:grid-cols-[1fr_1fr_auto]">
          <Choice
            label={`Only those whose (column of ${lookup.table.name})`}
            value={restriction.column}
            options={columns.filter(
              ({ value }) => value === restriction.column || !within.some((one) => one.column === value),
            )}
            onChoose={(column) => {
              set(at, { column });
            }}
          />
          <Choice
            label="is"
            value={restriction.from ?? ""}
            options={[
              { value: "", label: "what is chosen just before" },
              ...own.map(({ name, label }) => ({ value: name, label: `the record’s ${label}` })),
            ]}
            onChoose={(from) => {
              set(at, { from: from === "" ? null : from });
            }}
          />
          <Button
            onClick={() => {
              set(at, null);
            }}
          >
            Remove
          </Button>
        </div>
      ))}
      <div className="grid items-end gap-3 sm:grid-cols-2">
        {within.length < MOST && (
          <Choice
            label={within.length === 0 ? "Restrict by a column" : "Restrict by a further column"}
            value=""
            options={[
              { value: "", label: within.length === 0 ? "(all records)" : "(no further one)" },
              ...columns.filter(({ value }) => value !== lookup.key && !within.some((one) => one.column === value)),
            ]}
            onChoose={(column) => {
              if (column !== "") onChange({ ...lookup, within: [...within, { column, from: null }] });
            }}
          />
        )}
        <Choice
          label="Under the title stands"
          value={lookup.details?.[0] ?? ""}
          options={[{ value: "", label: "(nothing)" }, ...columns.filter(({ value }) => value !== lookup.key)]}
          onChoose={(column) => {
            onChange({ ...lookup, details: column === "" ? [] : [column] });
          }}
        />
      </div>
      {isOwn && (
        <Tick
          label="It stands above the record, as a folder or a superior does: nothing can stand above itself"
          isOn={lookup.standsAbove ?? false}
          onTurn={(standsAbove) => {
            onChange({ ...lookup, standsAbove });
          }}
        />
      )}
    </fieldset>
  );
}
