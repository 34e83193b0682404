import { useState } from "react";
import type { Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Field, inputClass } from "../../ui/Field";
import { Tick } from "../../ui/Tick";
import { FormSelect } from "./FormSelect";
import { ColumnNotes, LookedNotes, samplesOf } from "./LookedNotes";
import { modeWords } from "./modeWords";
import { PlanView } from "./PlanView";

type Settings = Schemas["PanelImportSettings"];

interface MatchSetupProps {
  address: PanelAddress;
  found: Schemas["PanelImportDto"];
  settings: Settings;
  error: Error | null;
  isPending: boolean;
  onTable: (table: string) => void;
  onPlan: (settings: Settings) => void;
  onRun: () => void;
}

/** Where the columns of a file go, what is done, and what that would do. */
export function MatchSetup({
  address,
  found,
  settings: kept,
  error,
  isPending,
  onTable,
  onPlan,
  onRun,
}: MatchSetupProps) {
  const [settings, setSettings] = useState(kept);
  const table = found.tables.find((one) => one.name === settings.table);
  const fields = error instanceof ApiError ? error.fields : {};
  const isAsPlanned = found.plan !== null && JSON.stringify(settings) === JSON.stringify(kept);
  if (!table) return null;
  const change = (place: number, part: Partial<Schemas["FieldMatch"]>) => {
    setSettings((now) => ({
      ...now,
      columns: now.columns?.map((match, at) => (at === place ? { ...match, ...part } : match)),
    }));
  };
  const taken = (settings.columns ?? []).flatMap((match) => (match.column === null ? [] : [match.column]));
  const finds = settings.mode === "update" || settings.mode === "upsert" || settings.mode === "mirror";
  const missing = found.fillable.filter((column) => column.isNeeded && !taken.includes(column.name));
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        onPlan(settings);
      }}
    >
      {found.tables.length > 1 && (
        <Field label="Table of the file">
          {(slots) => (
            <select
              {...slots}
              className={`${inputClass} max-w-72`}
              value={settings.table}
              onChange={(event) => {
                onTable(event.target.value);
              }}
            >
              {found.tables.map((one) => (
                <option key={one.name}>{one.name}</option>
              ))}
            </select>
          )}
        </Field>
      )}
      <LookedNotes table={table} />
      <div className="overflow-x-auto">
        <table className="w-full border-t border-line text-left">
          <thead className="hidden sm:table-header-group">
            <tr className="border-b border-line text-sm text-faint">
              <th className="py-1 pr-3 font-medium">In the file</th>
              <th className="py-1 pr-3 font-medium">Values</th>
              <th className="py-1 pr-3 font-medium">Goes into</th>
              <th className="py-1 font-medium"></th>
            </tr>
          </thead>
          <tbody>
            {(settings.columns ?? []).map((match, place) => {
              const looked = table.columns[place];
              return (
                <tr key={place} className="grid border-b border-line py-1 align-top sm:table-row">
                  <td className="py-1.5 pr-3 font-medium">{match.source}</td>
                  <td className="max-w-80 py-1.5 pr-3">
                    <span className="block truncate">{samplesOf(table, place)}</span>
                    {looked && <ColumnNotes column={looked} />}
                    {looked?.otherType && (
                      <span className="mt-1 block">
                        <FormSelect
                          label={`How ${match.source} is read`}
                          forms={[
                            { type: looked.type, pattern: looked.pattern, reading: "" },
                            { type: looked.otherType, pattern: looked.otherPattern, reading: "" },
                          ]}
                          value={match}
                          onChange={(form) => {
                            change(place, form);
                          }}
                        />
                      </span>
                    )}
                  </td>
                  <td className="min-w-56 py-1 pr-3">
                    <select
                      aria-label={`Where ${match.source} goes`}
                      aria-invalid={fields[`columns.${place}`] ? true : undefined}
                      className={inputClass}
                      value={match.column ?? ""}
                      onChange={(event) => {
                        change(place, {
                          column: event.target.value === "" ? null : event.target.value,
                          because: null,
                        });
                      }}
                    >
                      <option value="">Left out</option>
                      {found.fillable.map((column) => (
                        <option
                          key={column.name}
                          value={column.name}
                          disabled={column.name !== match.column && taken.includes(column.name)}
                        >
                          {column.label}
                        </option>
                      ))}
                    </select>
                    {match.because && <span className="text-sm text-faint">{match.because}</span>}
                    {fields[`columns.${place}`] && (
                      <span role="alert" className="text-sm font-medium text-danger">
                        {fields[`columns.${place}`]}
                      </span>
                    )}
                  </td>
                  <td className="py-1 whitespace-nowrap">
                    {match.column !== null && (looked?.empty ?? 0) > 0 && finds && (
                      <Tick
                        isSmall
                        label="if empty, keep the value"
                        isOn={match.keepsWhereEmpty === true}
                        onTurn={(isOn) => {
                          change(place, { keepsWhereEmpty: isOn });
                        }}
                      />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {missing.length > 0 && settings.mode !== "update" && (
        <p className="font-medium">
          New records need {missing.map((column) => column.label).join(", ")}, which no column of the file goes into.
        </p>
      )}
      <div className="flex flex-wrap items-start gap-4">
        <Field label="What to do" error={fields.mode}>
          {(slots) => (
            <select
              {...slots}
              className={`${inputClass} max-w-md`}
              value={settings.mode}
              onChange={(event) => {
                setSettings({ ...settings, mode: event.target.value as Schemas["PanelImportMode"] });
              }}
            >
              {found.modes.map((mode) => (
                <option key={mode} value={mode}>
                  {modeWords[mode]}
                </option>
              ))}
            </select>
          )}
        </Field>
        {finds && (
          <KeyChoice
            found={found}
            taken={taken}
            chosen={settings.key ?? []}
            error={fields.key}
            onChange={(key) => {
              setSettings({ ...settings, key });
            }}
          />
        )}
      </div>
      <div className="flex flex-wrap gap-x-6">
        <Tick
          label="Write nothing if one row does not fit"
          isOn={settings.isWhole === true}
          onTurn={(isWhole) => {
            setSettings({ ...settings, isWhole });
          }}
        />
        <Tick
          label="Write rows in spite of warnings"
          isOn={settings.inSpiteOfWarnings === true}
          onTurn={(inSpiteOfWarnings) => {
            setSettings({ ...settings, inSpiteOfWarnings });
          }}
        />
      </div>
      {(fields.columns ?? fields.plan) && (
        <p role="alert" className="font-medium text-danger">
          {fields.columns ?? fields.plan}
        </p>
      )}
      {error && Object.keys(fields).length === 0 && <Failure error={error} />}
      <div>
        <Button type="submit" tone={isAsPlanned ? "quiet" : "next"} disabled={isPending}>
          See what it would do
        </Button>
      </div>
      {isAsPlanned && found.plan && (
        <PlanView
          address={address}
          id={found.status.id}
          plan={found.plan}
          isWhole={settings.isWhole === true}
          isPending={isPending}
          onRun={onRun}
          onAgain={() => {
            onPlan(settings);
          }}
        />
      )}
    </form>
  );
}

interface KeyChoiceProps {
  found: Schemas["PanelImportDto"];
  taken: string[];
  chosen: string[];
  error: string | undefined;
  onChange: (key: string[]) => void;
}

/** By which columns a record is found. */
function KeyChoice({ found, taken, chosen, error, onChange }: KeyChoiceProps) {
  const [first = "", ...more] = chosen;
  const labelOf = (name: string) => found.fillable.find((column) => column.name === name)?.label ?? name;
  return (
    <Field
      label="A record is found by"
      error={error}
      hint={more.length > 0 ? `and ${more.map(labelOf).join(", ")}` : ""}
    >
      {(slots) => (
        <select
          {...slots}
          className={`${inputClass} max-w-72`}
          value={first}
          onChange={(event) => {
            onChange(event.target.value === "" ? [] : [event.target.value]);
          }}
        >
          <option value="">Choose a column</option>
          {taken.map((name) => (
            <option key={name} value={name}>
              {labelOf(name)}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}
