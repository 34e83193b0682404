import type { PanelColumn } from "../../api/client";
import { readCount } from "../../values/input";
import { Tick } from "../../ui/Tick";
import { Choice } from "./Choice";
import { DraftField } from "./DraftField";

interface FieldSetupProps {
  column: PanelColumn;
  /** The panel's other columns that its form shows. */
  others: PanelColumn[];
  isText: boolean;
  isWhole: boolean;
  /** Whether its values are a short list: yes or no, or an enum. */
  hasFew: boolean;
  isBinary: boolean;
  isTime: boolean;
  errors: Record<string, string>;
  onChange: (part: Partial<PanelColumn>) => void;
}

type Input = NonNullable<PanelColumn["input"]>;

const widths = [
  { value: "", label: "(as its values need)" },
  { value: "third", label: "a third of the row" },
  { value: "half", label: "half of the row" },
  { value: "full", label: "the whole row" },
];

const textInputs: { value: Input; label: string }[] = [
  { value: "paragraph", label: "several lines" },
  { value: "formatted", label: "formatted text (HTML)" },
  { value: "email", label: "an e-mail address" },
  { value: "telephone", label: "a telephone number" },
  { value: "webAddress", label: "the address of a page" },
  { value: "colour", label: "a colour" },
];

/** How a column's field looks in the form, and when it is there. */
export function FieldSetup(props: FieldSetupProps) {
  const { column, others, isText, isWhole, hasFew, isBinary, isTime, errors, onChange } = props;
  const part = `columns.${column.name}.`;
  const isTyped = !column.lookup && !column.isSecret && !column.stamp && !isBinary && !column.files;
  const inputs: { value: Input; label: string }[] = [
    ...(isText ? textInputs : []),
    ...(isWhole ? [{ value: "rating" as const, label: "marks from 1 to 5" }] : []),
    ...(hasFew ? [{ value: "segments" as const, label: "all choices in sight" }] : []),
  ];
  const when = column.shownWhen ?? null;
  return (
    <fieldset className="grid gap-3 border-t border-line pt-2 sm:grid-cols-2">
      <legend className="pr-2 text-sm font-medium">In the form</legend>
      <DraftField
        key={column.name}
        label="Heading"
        value={column.section ?? ""}
        error={errors[`${part}section`]}
        onKeep={(section) => {
          onChange({ section });
        }}
      />
      <Choice
        label="Width"
        value={column.width ?? ""}
        options={widths}
        onChoose={(width) => {
          onChange({ width: width === "" ? null : (width as PanelColumn["width"]) });
        }}
      />
      <DraftField
        key={`hint ${column.name}`}
        label="Hint under the field"
        value={column.hint ?? ""}
        error={errors[`${part}hint`]}
        onKeep={(hint) => {
          onChange({ hint });
        }}
      />
      {!column.stamp && !column.isSecret && !isBinary && !column.files && (
        <DraftField
          key={`start ${column.name}`}
          label={isTime ? "A new record begins with (today, now, or 2026-05-31)" : "A new record begins with"}
          value={column.startValue ?? ""}
          error={errors[`${part}startValue`]}
          onKeep={(startValue) => {
            onChange({ startValue: startValue === "" ? null : startValue });
          }}
        />
      )}
      {(isBinary || column.files) && !column.readOnly && (
        <DraftField
          key={`most ${column.name}`}
          label="Largest file, in MB (blank for 10)"
          value={column.mostMegabytes?.toString() ?? ""}
          error={errors[`${part}mostMegabytes`]}
          onKeep={(text) => {
            onChange({ mostMegabytes: text.trim() === "" ? null : (readCount(text) ?? 0) });
          }}
        />
      )}
      {isTyped && inputs.length > 0 && (
        <Choice
          label="Typed as"
          value={column.input ?? ""}
          options={[{ value: "", label: "(what its type says)" }, ...inputs]}
          error={errors[`${part}input`]}
          onChoose={(input) => {
            onChange({ input: input === "" ? null : (input as Input) });
          }}
        />
      )}
      <Choice
        label="Shown only when"
        value={when?.column ?? ""}
        options={[
          { value: "", label: "(always)" },
          ...others.map(({ name, label }) => ({ value: name, label: `${label} has a value` })),
        ]}
        error={errors[`${part}shownWhen`]}
        onChoose={(name) => {
          onChange({ shownWhen: name === "" ? null : { column: name, oneOf: [] } });
        }}
      />
      {when && (
        <DraftField
          key={`when ${column.name} ${when.column}`}
          label="… and it is one of (separated by |; blank for any; yes and no are true and false)"
          value={when.oneOf.join(" | ")}
          error={errors[`${part}shownWhen`]}
          onKeep={(text) => {
            const oneOf = text
              .split("|")
              .map((value) => value.trim())
              .filter((value) => value !== "");
            onChange({ shownWhen: { column: when.column, oneOf } });
          }}
        />
      )}
      <div className="grid content-end gap-1">
        <Tick
          label="Begins a row"
          isOn={column.startsRow ?? false}
          onTurn={(startsRow) => {
            onChange({ startsRow });
          }}
        />
        {isTyped && isText && !column.isSensitive && !column.reading && (
          <Tick
            label="Offers what other records have"
            isOn={column.suggests ?? false}
            onTurn={(suggests) => {
              onChange({ suggests });
            }}
          />
        )}
      </div>
    </fieldset>
  );
}
