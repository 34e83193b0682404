import type { PanelColumn, Schemas } from "../api/client";
import { Field, inputClass } from "../ui/Field";
import { DraftField } from "./DraftField";

interface ColumnDetailProps {
  column: PanelColumn;
  isText: boolean;
  targets: Schemas["LookupTarget"][];
  reasons: Schemas["DraftReason"][];
  errors: Record<string, string>;
  onChange: (part: Partial<PanelColumn>) => void;
}

/** What the grid has no room for: the record that a column refers to, its heading in the form, and why the draft decided so. */
export function ColumnDetail({ column, isText, targets, reasons, errors, onChange }: ColumnDetailProps) {
  const part = `columns.${column.name}.`;
  const why = reasons.filter((reason) => reason.part.startsWith(part));
  const current = column.lookup ? nameOf({ table: column.lookup.table, key: column.lookup.key }) : "";
  const choose = (name: string) => {
    const target = targets.find((known) => nameOf(known) === name);
    onChange({
      lookup: target && {
        table: target.table,
        key: target.key,
        conversion: isText && target.isWhole ? "textToInteger" : "none",
        where: null,
        title: null,
      },
    });
  };
  return (
    <section aria-label={`About ${column.name}`} className="grid gap-3 border border-line bg-sheet p-3">
      <h2 className="text-base font-semibold">{column.name}</h2>
      <div className="grid gap-3 sm:grid-cols-2">
        <Field
          label="Shows the record of"
          error={errors[`${part}lookup`]}
          hint={
            column.lookup?.where
              ? `of the list ${column.lookup.where.column} = “${column.lookup.where.value}”`
              : undefined
          }
        >
          {(slots) => (
            <select
              {...slots}
              className={inputClass}
              value={current}
              onChange={(event) => {
                choose(event.target.value);
              }}
            >
              <option value="">nothing: it is a value of its own</option>
              {current && !targets.some((target) => nameOf(target) === current) && <option>{current}</option>}
              {targets.map((target) => (
                <option key={nameOf(target)}>{nameOf(target)}</option>
              ))}
            </select>
          )}
        </Field>
        <DraftField
          key={column.name}
          label="Heading in the form"
          value={column.section ?? ""}
          error={errors[`${part}section`]}
          onKeep={(section) => {
            onChange({ section });
          }}
        />
      </div>
      <Why reasons={why} />
    </section>
  );
}

/** Why the draft decided what it did. */
export function Why({ reasons }: { reasons: Schemas["DraftReason"][] }) {
  if (reasons.length === 0) return null;
  return (
    <div className="text-sm">
      <p className="font-semibold text-faint">Why the draft has it so</p>
      <ul className="list-disc pl-5">
        {reasons.map(({ part, why }) => (
          <li key={part}>{why}</li>
        ))}
      </ul>
    </div>
  );
}

function nameOf({ table, key }: { table: { schema: string; name: string }; key: string }): string {
  return `${table.schema}.${table.name} (${key})`;
}
