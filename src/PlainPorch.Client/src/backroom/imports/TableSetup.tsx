import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { FormSelect } from "../../porch/imports/FormSelect";
import { ColumnNotes, LookedNotes, samplesOf } from "../../porch/imports/LookedNotes";
import { Failure } from "../../ui/Failure";
import { Field, inputClass } from "../../ui/Field";
import { Tick } from "../../ui/Tick";
import { useSettled } from "../../ui/useSettled";
import { formatCount } from "../../values/format";
import { PreviewTable } from "./PreviewTable";
import { previewQuery } from "./tableQueries";

type Table = Schemas["TableSettings"];

const TYPED_MS = 300;

interface TableSetupProps {
  id: number;
  one: string;
  place: number;
  looked: Schemas["LookedTable"];
  settings: Schemas["ImportSettings"];
  table: Table;
  forms: Schemas["FormChoice"][];
  errors: Record<string, string>;
  onChange: (table: Table) => void;
}

/** What becomes of a table of a file: its name, its columns, its key, where it refers to; with the preview following. */
export function TableSetup({ id, one, place, looked, settings, table, forms, errors, onChange }: TableSetupProps) {
  const shown = useSettled(settings, TYPED_MS);
  const preview = useQuery(previewQuery(id, one, place, shown));
  const problems = Object.fromEntries((preview.data?.problems ?? []).map(({ field, message }) => [field, message]));
  const wrong = (field: string) => problems[field] ?? errors[`tables.${place}.${field}`];
  const columns = table.columns ?? [];
  const change = (at: number, part: Partial<Schemas["ColumnSettings"]>) => {
    const renamed = part.name !== undefined ? { from: columns[at]?.name ?? "", to: part.name } : null;
    const named = (name: string) => (renamed?.from === name ? renamed.to : name);
    onChange({
      ...table,
      columns: columns.map((column, other) => (other === at ? { ...column, ...part } : column)),
      key: (table.key ?? []).map(named),
      references: (table.references ?? []).map((reference) => ({
        ...reference,
        columns: reference.columns.map(named),
      })),
    });
  };
  const misfitsOf = (name: string) => preview.data?.columns.find((column) => column.name === name)?.misfits ?? 0;
  return (
    <section className="grid gap-4" aria-label={table.name}>
      <div className="flex flex-wrap items-end gap-4">
        <Field label="Table" error={wrong("name")}>
          {(slots) => (
            <input
              {...slots}
              className={`${inputClass} w-64`}
              value={table.name}
              onChange={(event) => {
                onChange({ ...table, name: event.target.value });
              }}
            />
          )}
        </Field>
        <Field label="Schema">
          {(slots) => (
            <input
              {...slots}
              className={`${inputClass} w-40`}
              value={table.schema}
              onChange={(event) => {
                onChange({ ...table, schema: event.target.value });
              }}
            />
          )}
        </Field>
        <Field label="Key" error={wrong("key")}>
          {(slots) => (
            <select
              {...slots}
              className={`${inputClass} w-64`}
              value={(table.key ?? []).join("\n")}
              onChange={(event) => {
                onChange({ ...table, key: event.target.value === "" ? [] : event.target.value.split("\n") });
              }}
            >
              <option value="">A new number for each row</option>
              {(table.key ?? []).length > 1 && (
                <option value={(table.key ?? []).join("\n")}>{(table.key ?? []).join(", ")}</option>
              )}
              {columns
                .filter((column) => !column.isLeftOut)
                .map((column) => (
                  <option key={column.source + column.name} value={column.name}>
                    {column.name}
                  </option>
                ))}
            </select>
          )}
        </Field>
        <Tick
          label="Leave this table out"
          isOn={table.isLeftOut === true}
          onTurn={(isLeftOut) => {
            onChange({ ...table, isLeftOut });
          }}
        />
      </div>
      <LookedNotes table={looked} />
      {table.isLeftOut ? null : (
        <>
          <div className="overflow-x-auto">
            <table className="w-full border-t border-line text-left">
              <thead className="hidden sm:table-header-group">
                <tr className="border-b border-line text-sm text-faint">
                  <th className="py-1 pr-3 font-medium">In the file</th>
                  <th className="py-1 pr-3 font-medium">Values</th>
                  <th className="py-1 pr-3 font-medium">Column</th>
                  <th className="py-1 pr-3 font-medium">Type</th>
                  <th className="py-1 pr-3 font-medium">Index</th>
                  <th className="py-1 font-medium">Leave out</th>
                </tr>
              </thead>
              <tbody>
                {columns.map((column, at) => {
                  const seen = looked.columns[at];
                  const misfits = misfitsOf(column.name);
                  return (
                    <tr
                      key={at}
                      className={`grid border-b border-line py-1 align-top sm:table-row ${column.isLeftOut ? "text-faint" : ""}`}
                    >
                      <td className="py-1.5 pr-3 font-medium">{column.source}</td>
                      <td className="max-w-72 py-1.5 pr-3">
                        <span className="block truncate">{samplesOf(looked, at)}</span>
                        {seen && <ColumnNotes column={seen} />}
                        {seen?.meaning && (
                          <span className="block text-sm text-faint" title={seen.evidence ?? undefined}>
                            {wordsOf(seen.meaning)}
                          </span>
                        )}
                      </td>
                      <td className="min-w-40 py-1 pr-3">
                        <input
                          aria-label={`Column for ${column.source}`}
                          aria-invalid={wrong(`columns.${at}.name`) ? true : undefined}
                          className={inputClass}
                          disabled={column.isLeftOut === true}
                          value={column.name}
                          onChange={(event) => {
                            change(at, { name: event.target.value });
                          }}
                        />
                        {wrong(`columns.${at}.name`) && (
                          <span role="alert" className="text-sm font-medium text-danger">
                            {wrong(`columns.${at}.name`)}
                          </span>
                        )}
                      </td>
                      <td className="min-w-44 py-1 pr-3">
                        <FormSelect
                          label={`Type of ${column.source}`}
                          forms={forms}
                          value={column}
                          onChange={(form) => {
                            change(at, form);
                          }}
                        />
                        {misfits > 0 && !column.isLeftOut && (
                          <span role="status" className="text-sm font-medium text-danger">
                            {formatCount(misfits)} {misfits === 1 ? "row does" : "rows do"} not fit and would be left
                            out
                          </span>
                        )}
                      </td>
                      <td className="py-2 pr-3">
                        <input
                          type="checkbox"
                          aria-label={`Index over ${column.name}`}
                          className="size-5 accent-accent"
                          checked={column.hasIndex === true}
                          onChange={(event) => {
                            change(at, { hasIndex: event.target.checked });
                          }}
                        />
                      </td>
                      <td className="py-2">
                        <input
                          type="checkbox"
                          aria-label={`Leave ${column.source} out`}
                          className="size-5 accent-accent"
                          checked={column.isLeftOut === true}
                          onChange={(event) => {
                            change(at, { isLeftOut: event.target.checked });
                          }}
                        />
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
          {(table.references ?? []).length > 0 && (
            <section className="grid gap-1">
              <h2 className="text-lg font-semibold">References</h2>
              <ul>
                {(table.references ?? []).map((reference, at) => (
                  <li key={at} className="flex flex-wrap items-center gap-x-3">
                    <Tick
                      label={`${reference.columns.join(", ")} refers to ${reference.table}.${reference.referredColumns.join(", ")}`}
                      isOn={reference.isLeftOut !== true}
                      onTurn={(isOn) => {
                        onChange({
                          ...table,
                          references: (table.references ?? []).map((other, place) =>
                            place === at ? { ...other, isLeftOut: !isOn } : other,
                          ),
                        });
                      }}
                    />
                    <span className="text-sm text-faint">{reference.evidence}</span>
                  </li>
                ))}
              </ul>
            </section>
          )}
          {preview.isError && <Failure error={preview.error} onRetry={() => void preview.refetch()} />}
          {preview.data && <PreviewTable preview={preview.data} rows={looked.rows} />}
        </>
      )}
    </section>
  );
}

/** What the survey takes a column for: "postalCode" as words. */
function wordsOf(meaning: string): string {
  return meaning
    .replace(/([a-z])([A-Z])/g, "$1 $2")
    .toLowerCase()
    .replace(/^sensitive$/, "confidential");
}
