import type { PanelColumn, Schemas } from "../../api/client";
import { Field, inputClass } from "../../ui/Field";
import type { PanelAddress } from "../../api/queries";
import { Tick } from "../../ui/Tick";
import { FieldSetup } from "./FieldSetup";
import { FilesSetup } from "./FilesSetup";
import { LookupSetup } from "./LookupSetup";
import { ReadingSetup } from "./ReadingSetup";
import { RuleField } from "./RuleField";
import { SetupPart } from "./SetupPart";

interface ColumnDetailProps {
  address: PanelAddress;
  sourceId: number;
  /** The panel's own table. */
  table: Schemas["TableName"];
  /** The panel's other columns. */
  others: PanelColumn[];
  known: Schemas["SetupColumn"] | undefined;
  kinds: Schemas["ReadingKind"][];
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
  address,
  sourceId,
  table,
  others,
  known,
  kinds,
  column,
  isText,
  isBinary,
  isTime,
  targets: all,
  lists,
  reasons,
  errors,
  onChange,
}: ColumnDetailProps) {
  const part = `columns.${column.name}.`;
  // A column refers not together with itself.
  const targets = all.filter(({ also }) => also.every(({ from }) => from !== column.name));
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
        also: target.also,
        conversion: isText && target.isWhole && target.also.length === 0 ? "textToInteger" : "none",
        where: null,
        title: null,
      },
    });
  };
  return (
    <section aria-label={`About ${column.name}`} className="grid gap-3 border border-line bg-sheet p-3">
      <h2 className="text-base font-semibold">{column.name}</h2>
      <div className="grid gap-3 sm:grid-cols-2">
        <Field label="Lookup: shows the record of" error={errors[`${part}lookup`]}>
          {(slots) => (
            <select
              {...slots}
              className={inputClass}
              value={current}
              onChange={(event) => {
                choose(event.target.value);
              }}
            >
              <option value="">(none: a plain value)</option>
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
        {(isText || isTime) && (
          <Field label="Filled in automatically with" error={errors[`${part}stamp`]}>
            {(slots) => (
              <select
                {...slots}
                className={inputClass}
                value={column.stamp ?? ""}
                onChange={(event) => {
                  onChange({ stamp: event.target.value === "" ? null : (event.target.value as PanelColumn["stamp"]) });
                }}
              >
                <option value="">(nothing: people fill it in)</option>
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
          label="Secret: forms can set it, and nothing ever shows it"
          isOn={column.isSecret ?? false}
          onTurn={(isSecret) => {
            onChange({ isSecret });
          }}
        />
        <Tick
          label="Sensitive: the logbook does not record its values"
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
      <FieldSetup
        column={column}
        others={others.filter(({ inForm }) => inForm)}
        isText={isText}
        isWhole={/^(smallint|integer|bigint)$/.test(known?.storeType ?? "")}
        hasFew={known?.hasFewValues ?? false}
        isBinary={isBinary}
        isTime={isTime}
        errors={errors}
        onChange={onChange}
      />
      {isText && canHoldPaths(column) && (
        <FilesSetup
          key={`files ${column.name}`}
          address={address}
          column={column}
          errors={errors}
          onChange={onChange}
        />
      )}
      {!column.stamp && <FieldRules address={address} column={column} errors={errors} onChange={onChange} />}
      {column.lookup && (
        <LookupSetup
          sourceId={sourceId}
          lookup={column.lookup}
          own={others}
          isOwn={column.lookup.table.schema === table.schema && column.lookup.table.name === table.name}
          onChange={(lookup) => {
            onChange({ lookup });
          }}
        />
      )}
      {known && (
        <ReadingSetup
          key={column.name}
          address={address}
          column={column}
          known={known}
          kinds={kinds}
          error={errors[`${part}reading`]}
          onChange={(reading) => {
            onChange({ reading });
          }}
        />
      )}
      <Why reasons={why} />
    </section>
  );
}

const fieldRules = [
  { rule: "shownIf", label: "Shown only if" },
  { rule: "requiredIf", label: "Required if" },
  { rule: "startsAs", label: "Filled in with, as long as nobody types there" },
] as const;

/** What expressions say of a field. */
function FieldRules({
  address,
  column,
  errors,
  onChange,
}: Pick<ColumnDetailProps, "address" | "column" | "errors" | "onChange">) {
  const set = fieldRules.filter(({ rule }) => column[rule]).length;
  return (
    <SetupPart
      key={column.name}
      title={
        <>
          Rules of this field <span className="font-normal text-faint">{set === 0 ? "none" : set}</span>
        </>
      }
    >
      {fieldRules.map(({ rule, label }) => (
        <RuleField
          key={`${column.name} ${rule} ${column[rule] ?? ""}`}
          address={address}
          label={label}
          isCondition={false}
          value={column[rule] ?? ""}
          error={errors[`columns.${column.name}.${rule}`]}
          onKeep={(text) => {
            onChange({ [rule]: text.trim() === "" ? null : text });
          }}
        />
      ))}
    </SetupPart>
  );
}

const stamps = [
  { value: "enteredAt", label: "the time of entry", isTime: true },
  { value: "changedAt", label: "the time of the last change", isTime: true },
  { value: "enteredBy", label: "the person who entered it", isTime: false },
  { value: "changedBy", label: "the person who last changed it", isTime: false },
] as const;

const places: { value: NonNullable<PanelColumn["match"]>; label: string }[] = [
  { value: "contains", label: "anywhere in the value" },
  { value: "startsWith", label: "at the beginning of the value" },
  { value: "whole", label: "only as the whole value" },
  { value: "alike", label: "anywhere, or with a similar spelling (pg_trgm)" },
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
          label="Match case"
          isOn={column.caseCounts ?? false}
          onTurn={(caseCounts) => {
            onChange({ caseCounts });
          }}
        />
        <Tick
          label="Ignore accents"
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
  { value: "", label: "(as usual) prevents erasing it; stays as it is when it is set aside" },
  { value: "goesAlong", label: "is removed with it, in the same way" },
  { value: "detached", label: "stays, with the reference emptied" },
  { value: "forbids", label: "prevents the removal" },
  { value: "left", label: "stays as it is in every case" },
  { value: "hidden", label: "is hidden here as long as that record is marked as set aside" },
] as const;

type Effect = NonNullable<Schemas["RemovalEffect"]>;

/** What becomes of a record when the one that it refers to is removed. */
function OnRemoval({ lookup, onChange }: { lookup: Schemas["Lookup"]; onChange: ColumnDetailProps["onChange"] }) {
  return (
    <Field label="When the record it refers to is removed, this one">
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

/** Whether a column's texts could be paths: what means days, numbers or yes and no is none. */
function canHoldPaths({ lookup, isSecret, stamp, expression, reading, files }: PanelColumn): boolean {
  const isPlain = !reading || reading.kind === "list";
  return Boolean(files) || (isPlain && !lookup && !isSecret && !stamp && !expression);
}

/** Why the draft decided what it did. */
export function Why({ reasons }: { reasons: Schemas["DraftReason"][] }) {
  if (reasons.length === 0) return null;
  return (
    <div className="text-sm">
      <p className="font-semibold text-faint">Why it was drafted like this</p>
      <ul className="list-disc pl-5">
        {reasons.map(({ part, why }) => (
          <li key={part}>{why}</li>
        ))}
      </ul>
    </div>
  );
}

function nameOf({ table, key, where, also = [] }: Pick<Schemas["Lookup"], "table" | "key" | "where" | "also">): string {
  const together = also.map(({ column, from }) => ` and ${column} = ${from}`).join("");
  return `${table.schema}.${table.name} (${key}${together}${where ? ` of the list ${where.value}` : ""})`;
}
