import type { PanelDefinition, Schemas } from "../../api/client";
import { Field, inputClass } from "../../ui/Field";
import { DraftField } from "./DraftField";
import { SetupPart } from "./SetupPart";
import { Why } from "./ColumnDetail";

interface RemovalSetupProps {
  definition: PanelDefinition;
  setup: Schemas["PanelSetupDto"];
  errors: Record<string, string>;
  onChange: (part: Partial<PanelDefinition>) => void;
}

type Manner = NonNullable<Schemas["RemovalManner"]>;
type Marker = NonNullable<PanelDefinition["marker"]>;

const manners: { value: Manner; label: string }[] = [
  { value: "mark", label: "set aside by a marker: stays in its table, can be brought back" },
  { value: "keep", label: "set aside out of its table: kept by Plain Porch, can be brought back exactly" },
  { value: "erase", label: "erased for good" },
  { value: "notAllowed", label: "not allowed here" },
];

const kinds: { value: Marker["kind"]; label: string }[] = [
  { value: "time", label: "the date and time it was set aside" },
  { value: "flag", label: "yes or no" },
  { value: "status", label: "one of several states" },
];

/** How the panel's records are removed, and by what a confirmation shows them. */
export function RemovalSetup({ definition, setup, errors, onChange }: RemovalSetupProps) {
  const removal = definition.removal ?? { manner: null, recognizedBy: [], eraseAfterDays: null };
  const marker = definition.marker ?? null;
  const manner = removal.manner ?? (marker ? "mark" : "keep");
  const duplicates = definition.duplicates ?? [];
  const recognized = removal.recognizedBy ?? [];
  const change = (part: Partial<typeof removal>) => {
    onChange({ removal: { ...removal, ...part } });
  };
  const withMarker = (part: Partial<Marker>): Marker => {
    const first = setup.columns.find((column) => !column.isIdentifying)?.name ?? "";
    return { ...(marker ?? { column: first, kind: "flag", removed: "Y", inUse: null, at: null, by: null }), ...part };
  };
  const changeMarker = (part: Partial<Marker>) => {
    onChange({ marker: withMarker(part) });
  };
  return (
    <SetupPart title="How records are removed">
      <Field label="Removed records are">
        {(slots) => (
          <select
            {...slots}
            className={inputClass}
            value={manner}
            onChange={(event) => {
              const next = event.target.value as Manner;
              // Both at once: a marker without the manner, or the manner without a marker, would be refused.
              if (next === "mark" && !marker)
                onChange({ marker: withMarker({}), removal: { ...removal, manner: next } });
              else change({ manner: next });
            }}
          >
            {manners.map(({ value, label }) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        )}
      </Field>
      {manner === "mark" && (
        <fieldset className="grid gap-3 sm:grid-cols-2">
          <legend className="mb-1 text-sm font-medium">The marker</legend>
          <ColumnChoice
            label="Column"
            value={marker?.column ?? ""}
            setup={setup}
            onChoose={(column) => {
              changeMarker({ column });
            }}
          />
          <Field label="Kind of value">
            {(slots) => (
              <select
                {...slots}
                className={inputClass}
                value={marker?.kind ?? "flag"}
                onChange={(event) => {
                  changeMarker({ kind: event.target.value as Marker["kind"] });
                }}
              >
                {kinds.map(({ value, label }) => (
                  <option key={value} value={value}>
                    {label}
                  </option>
                ))}
              </select>
            )}
          </Field>
          {marker?.kind !== "time" && (
            <>
              <DraftField
                label="Value when set aside"
                value={marker?.removed ?? ""}
                error={undefined}
                onKeep={(removed) => {
                  changeMarker({ removed });
                }}
              />
              <DraftField
                label="Value when in use (leave blank for empty)"
                value={marker?.inUse ?? ""}
                error={undefined}
                onKeep={(inUse) => {
                  changeMarker({ inUse: inUse === "" ? null : inUse });
                }}
              />
            </>
          )}
          <ColumnChoice
            label="Column for the date and time"
            none="none"
            value={marker?.at ?? ""}
            setup={setup}
            onChoose={(at) => {
              changeMarker({ at: at || null });
            }}
          />
          <ColumnChoice
            label="Column for the person"
            none="none"
            value={marker?.by ?? ""}
            setup={setup}
            onChoose={(by) => {
              changeMarker({ by: by || null });
            }}
          />
          {errors.marker && <p className="text-sm text-danger sm:col-span-2">{errors.marker}</p>}
        </fieldset>
      )}
      {(manner === "mark" || manner === "keep") && (
        <div className="max-w-72">
          <DraftField
            label="Erase for good after this many days (leave blank for never)"
            value={removal.eraseAfterDays == null ? "" : String(removal.eraseAfterDays)}
            error={errors["removal.eraseAfterDays"]}
            onKeep={(text) => {
              const days = Number(text);
              change({ eraseAfterDays: text.trim() === "" ? null : Number.isInteger(days) ? days : 0 });
            }}
          />
        </div>
      )}
      <fieldset className="grid gap-1">
        <legend className="text-sm font-medium">
          Shown in a confirmation:
          {recognized.length === 0 && " the first columns of the list, unless you select some"}
        </legend>
        <div className="flex flex-wrap gap-x-4">
          {definition.columns.map((column) => (
            <label key={column.name} className="flex min-h-8 items-center gap-2">
              <input
                type="checkbox"
                className="size-5 accent-accent"
                checked={recognized.includes(column.name)}
                onChange={() => {
                  change({
                    recognizedBy: recognized.includes(column.name)
                      ? recognized.filter((name) => name !== column.name)
                      : [...recognized, column.name],
                  });
                }}
              />
              {column.label}
            </label>
          ))}
        </div>
      </fieldset>
      <fieldset className="grid gap-1">
        <legend className="text-sm font-medium">Records are likely duplicates if these are</legend>
        <div className="flex flex-wrap gap-x-4">
          {definition.columns.map((column) => {
            const known = duplicates.find((one) => one.name === column.name);
            return (
              <label key={column.name} className="flex min-h-8 items-center gap-2">
                <select
                  aria-label={`Duplicates by ${column.label}`}
                  className="min-h-8 rounded border border-edge bg-sheet px-1"
                  value={known ? (known.alike ? "alike" : "same") : ""}
                  onChange={(event) => {
                    const rest = duplicates.filter((one) => one.name !== column.name);
                    onChange({
                      duplicates:
                        event.target.value === ""
                          ? rest
                          : [...rest, { name: column.name, alike: event.target.value === "alike" }],
                    });
                  }}
                >
                  <option value="">–</option>
                  <option value="same">the same</option>
                  <option value="alike">alike</option>
                </select>
                {column.label}
              </label>
            );
          })}
        </div>
        {errors.duplicates && <p className="text-sm text-danger">{errors.duplicates}</p>}
      </fieldset>
      <Why reasons={setup.reasons.filter(({ part }) => part === "marker")} />
    </SetupPart>
  );
}

interface ColumnChoiceProps {
  label: string;
  /** What choosing none is called; undefined where one has to be chosen. */
  none?: string;
  value: string;
  setup: Schemas["PanelSetupDto"];
  onChoose: (column: string) => void;
}

function ColumnChoice({ label, none, value, setup, onChoose }: ColumnChoiceProps) {
  return (
    <Field label={label}>
      {(slots) => (
        <select
          {...slots}
          className={inputClass}
          value={value}
          onChange={(event) => {
            onChoose(event.target.value);
          }}
        >
          {none && <option value="">{none}</option>}
          {setup.columns
            .filter((column) => !column.isWrittenByDatabaseOnly && column.storeType !== "bytea")
            .map((column) => (
              <option key={column.name}>{column.name}</option>
            ))}
        </select>
      )}
    </Field>
  );
}
