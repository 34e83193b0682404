import type { PanelColumn, Schemas } from "../../api/client";
import { Field, inputClass } from "../../ui/Field";
import { Tick } from "../../ui/Tick";
import { DraftField } from "./DraftField";

interface ColumnDetailProps {
  column: PanelColumn;
  isText: boolean;
  isBinary: boolean;
  isTime: boolean;
  targets: Schemas["LookupTarget"][];
  lists: Schemas["CodeList"][];
  reasons: Schemas["DraftReason"][];
  errors: Record<string, string>;
  onChange: (part: Partial<PanelColumn>) => void;
}

/** What the grid has no room for: the record that a column refers to, its heading in the form, and why the draft decided so. */
export function ColumnDetail({
  column,
  isText,
  isBinary,
  isTime,
  targets,
  lists,
  reasons,
  errors,
  onChange,
}: ColumnDetailProps) {
  const part = `columns.${column.name}.`;
  const why = reasons.filter((reason) => reason.part.startsWith(part));
  const current = column.lookup ? nameOf(column.lookup) : "";
  const choose = (name: string) => {
    const list = lists.find(({ lookup }) => nameOf(lookup) === name);
    if (list) {
      onChange({ lookup: { ...list.lookup, conversion: isText && list.isWhole ? "textToInteger" : "none" } });
      return;
    }
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
        <Field label="Shows the record of" error={errors[`${part}lookup`]}>
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
              {current &&
                ![...targets, ...lists.map(({ lookup }) => lookup)].some((known) => nameOf(known) === current) && (
                  <option>{current}</option>
                )}
              <optgroup label="Records">
                {targets.map((target) => (
                  <option key={nameOf(target)}>{nameOf(target)}</option>
                ))}
              </optgroup>
              {lists.length > 0 && (
                <optgroup label="Lists of codes">
                  {lists.map(({ lookup }) => (
                    <option key={nameOf(lookup)}>{nameOf(lookup)}</option>
                  ))}
                </optgroup>
              )}
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
        {(isText || isTime) && (
          <Field label="Filled in by the program with" error={errors[`${part}stamp`]}>
            {(slots) => (
              <select
                {...slots}
                className={inputClass}
                value={column.stamp ?? ""}
                onChange={(event) => {
                  onChange({ stamp: event.target.value === "" ? null : (event.target.value as PanelColumn["stamp"]) });
                }}
              >
                <option value="">nothing: people fill it in</option>
                {stamps
                  .filter((stamp) => stamp.isTime === isTime)
                  .map(({ value, label }) => (
                    <option key={value} value={value}>
                      {label}
                    </option>
                  ))}
              </select>
            )}
          </Field>
        )}
        {column.lookup && <OnRemoval lookup={column.lookup} onChange={onChange} />}
        <Tick
          label="Sensitive: the logbook does not tell its values"
          isOn={column.isSensitive ?? false}
          onTurn={(isSensitive) => {
            onChange({ isSensitive });
          }}
        />
        {isBinary && (
          <Tick
            label="Shown as a picture"
            isOn={column.isPicture ?? false}
            onTurn={(isPicture) => {
              onChange({ isPicture });
            }}
          />
        )}
        {isText && column.searched && <Matching column={column} onChange={onChange} />}
      </div>
      <Why reasons={why} />
    </section>
  );
}

const stamps = [
  { value: "enteredAt", label: "when the record was entered", isTime: true },
  { value: "changedAt", label: "when it was last changed", isTime: true },
  { value: "enteredBy", label: "who entered it", isTime: false },
  { value: "changedBy", label: "who changed it last", isTime: false },
] as const;

const places: { value: NonNullable<PanelColumn["match"]>; label: string }[] = [
  { value: "contains", label: "anywhere in it" },
  { value: "startsWith", label: "at its beginning" },
  { value: "whole", label: "as its whole value" },
  { value: "alike", label: "anywhere, or spelled much like it (pg_trgm)" },
];

/** How the search compares what is typed with the column's texts. */
function Matching({ column, onChange }: Pick<ColumnDetailProps, "column" | "onChange">) {
  return (
    <>
      <Field label="The search finds a word">
        {(slots) => (
          <select
            {...slots}
            className={inputClass}
            value={column.match ?? "contains"}
            onChange={(event) => {
              onChange({ match: event.target.value as PanelColumn["match"] });
            }}
          >
            {places.map(({ value, label }) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        )}
      </Field>
      <div className="grid content-end gap-1">
        <Tick
          label="Capitals count"
          isOn={column.caseCounts ?? false}
          onTurn={(caseCounts) => {
            onChange({ caseCounts });
          }}
        />
        <Tick
          label="Accents do not count"
          isOn={column.ignoresAccents ?? false}
          onTurn={(ignoresAccents) => {
            onChange({ ignoresAccents });
          }}
        />
      </div>
    </>
  );
}

const effects = [
  { value: "", label: "nothing while it is only set aside; else it holds that one" },
  { value: "goesAlong", label: "goes along: marked as well, or taken out of its table" },
  { value: "detached", label: "stays, the reference emptied" },
  { value: "forbids", label: "forbids it" },
  { value: "left", label: "stays as it is, whatever happens" },
  { value: "hidden", label: "stays in its table, hidden here as long as that one is marked" },
] as const;

type Effect = NonNullable<Schemas["RemovalEffect"]>;

/** What becomes of a record when the one that it refers to is removed. */
function OnRemoval({ lookup, onChange }: { lookup: Schemas["Lookup"]; onChange: ColumnDetailProps["onChange"] }) {
  return (
    <Field label="When that record is removed, this one">
      {(slots) => (
        <select
          {...slots}
          className={inputClass}
          value={lookup.onRemoval ?? ""}
          onChange={(event) => {
            onChange({
              lookup: { ...lookup, onRemoval: event.target.value === "" ? null : (event.target.value as Effect) },
            });
          }}
        >
          {effects.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      )}
    </Field>
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

function nameOf({ table, key, where }: Pick<Schemas["Lookup"], "table" | "key" | "where">): string {
  return `${table.schema}.${table.name} (${key}${where ? ` of the list ${where.value}` : ""})`;
}
