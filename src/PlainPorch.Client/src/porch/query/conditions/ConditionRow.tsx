import { Button } from "../../../ui/Button";
import { about, valuesFor, type Field, type Sort, type Test } from "./tree";

interface ConditionRowProps {
  test: Test;
  fields: Field[];
  onChange: (test: Test) => void;
  onRemove: () => void;
}

const isTime = (field: Field | undefined) =>
  field !== undefined && ["date", "dateTime", "instant", "time"].includes(field.kind);

/** What is asked, in words that fit the field. */
function wordOf(sort: Sort, field: Field | undefined): string {
  const words: Record<Sort, string> = {
    contains: "has",
    startsWith: "begins with",
    is: "is",
    less: isTime(field) ? "is before" : "is under",
    atMost: isTime(field) ? "is until" : "is at most",
    more: isTime(field) ? "is after" : "is over",
    atLeast: isTime(field) ? "is from" : "is at least",
    between: "is between",
    empty: "is empty",
    filled: "is filled",
    inLast: "is in the last",
    inNext: "is in the next",
    inThis: "is in this",
  };
  return words[sort];
}

// Others say themselves what their opposite is, such as empty and filled.
const denied: Partial<Record<Sort, string>> = {
  contains: "does not have",
  startsWith: "does not begin with",
  is: "is not",
  between: "is not between",
  inLast: "is not in the last",
  inNext: "is not in the next",
  inThis: "is not in this",
};

const box = "min-h-9 min-w-0 rounded border border-edge bg-sheet px-2";
const nameOf = (column: string, of: string | null) => JSON.stringify([column, of ?? ""]);

/** One condition: a field, what is asked of it, and the values. */
export function ConditionRow({ test, fields, onChange, onRemove }: ConditionRowProps) {
  const field = fields.find((one) => one.column === test.column && (one.of ?? "") === test.of);
  const comparable = ["is", "less", "atMost", "more", "atLeast"].includes(test.is) ? (field?.others ?? []) : [];
  return (
    <div className="grid gap-2 rounded bg-paper p-2 sm:grid-cols-[minmax(0,14rem)_auto_minmax(0,1fr)_auto] sm:items-start">
      <select
        aria-label="Field"
        className={box}
        value={nameOf(test.column, test.of)}
        onChange={(event) => {
          const chosen = fields.find((one) => nameOf(one.column, one.of) === event.target.value);
          if (chosen) onChange(about(test, chosen));
        }}
      >
        {!field && <option value={nameOf(test.column, test.of)}>{test.of || test.column || "Choose a field"}</option>}
        {fields.map((one) => (
          <option key={nameOf(one.column, one.of)} value={nameOf(one.column, one.of)}>
            {one.label}
          </option>
        ))}
      </select>
      <span className="flex gap-2">
        <select
          aria-label="Comparison"
          className={`${box} flex-1`}
          value={(test.isNot ? "not " : "") + test.is}
          onChange={(event) => {
            const is = event.target.value.replace("not ", "") as Sort;
            const isNot = event.target.value.startsWith("not ");
            onChange({ ...test, is, isNot, values: valuesFor(is, test.values), other: "" });
          }}
        >
          {(field?.sorts ?? [test.is]).map((sort) => (
            <option key={sort} value={sort}>
              {wordOf(sort, field)}
            </option>
          ))}
          {(field?.sorts ?? []).flatMap((sort) => {
            const word = denied[sort] ?? (test.isNot && sort === test.is ? `not: ${wordOf(sort, field)}` : undefined);
            return word === undefined ? (
              []
            ) : (
              <option key={`not ${sort}`} value={`not ${sort}`}>
                {word}
              </option>
            );
          })}
        </select>
      </span>
      <span className="flex flex-wrap items-center gap-2">
        {comparable.length > 0 && (
          <select
            aria-label="Value or field to compare with"
            className={`${box} max-w-44`}
            value={test.other}
            onChange={(event) => {
              onChange({ ...test, other: event.target.value });
            }}
          >
            <option value="">the value</option>
            {comparable.map((name) => (
              <option key={name} value={name}>
                {fields.find((one) => one.column === name && one.of === null)?.label ?? name}
              </option>
            ))}
          </select>
        )}
        {test.other === "" && <Values test={test} field={field} onChange={onChange} />}
      </span>
      <Button className="justify-self-end" aria-label="Remove this condition" onClick={onRemove}>
        ×
      </Button>
    </div>
  );
}

interface ValuesProps {
  test: Test;
  field: Field | undefined;
  onChange: (test: Test) => void;
}

function Values({ test, field, onChange }: ValuesProps) {
  const set = (place: number, value: string) => {
    onChange({ ...test, values: test.values.map((old, at) => (at === place ? value : old)) });
  };
  if (test.is === "empty" || test.is === "filled") return null;
  if (test.is === "inThis")
    return (
      <select
        aria-label="Span"
        className={box}
        value={test.values[0]}
        onChange={(event) => {
          set(0, event.target.value);
        }}
      >
        {["day", "week", "month", "year"].map((span) => (
          <option key={span}>{span}</option>
        ))}
      </select>
    );
  if (test.is === "inLast" || test.is === "inNext")
    return (
      <Span
        text={test.values[0] ?? ""}
        onChange={(text) => {
          set(0, text);
        }}
      />
    );
  const severalAllowed = ["is", "contains", "startsWith"].includes(test.is);
  return (
    <>
      {test.values.map((value, place) => (
        <span key={place} className="flex min-w-0 items-center gap-1">
          {place > 0 && <span className="text-faint">{test.is === "between" ? "and" : "or"}</span>}
          {field && field.choices.length > 0 ? (
            <select
              aria-label="Value"
              className={box}
              value={value}
              onChange={(event) => {
                set(place, event.target.value);
              }}
            >
              <option value="">Choose</option>
              {field.choices.map((choice) => (
                <option key={choice}>{choice}</option>
              ))}
            </select>
          ) : (
            <input
              aria-label="Value"
              className={`${box} w-36`}
              value={value}
              maxLength={200}
              placeholder={isTime(field) ? "such as 03/2019" : undefined}
              onChange={(event) => {
                set(place, event.target.value);
              }}
            />
          )}
          {place > 0 && test.is !== "between" && (
            <button
              type="button"
              aria-label={`Remove “${value}”`}
              className="size-7 rounded hover:bg-tint"
              onClick={() => {
                onChange({ ...test, values: test.values.filter((_, at) => at !== place) });
              }}
            >
              ×
            </button>
          )}
        </span>
      ))}
      {severalAllowed && (
        <button
          type="button"
          className="min-h-8 rounded px-2 link"
          onClick={() => {
            onChange({ ...test, values: [...test.values, ""] });
          }}
        >
          or …
        </button>
      )}
    </>
  );
}

function Span({ text, onChange }: { text: string; onChange: (text: string) => void }) {
  const [count = "", unit = "days"] = text.split(" ");
  return (
    <>
      <input
        aria-label="How many"
        inputMode="numeric"
        className={`${box} w-20 text-right`}
        value={count}
        maxLength={5}
        onChange={(event) => {
          onChange(`${event.target.value.replace(/\D/g, "")} ${unit}`);
        }}
      />
      <select
        aria-label="Unit"
        className={box}
        value={unit}
        onChange={(event) => {
          onChange(`${count} ${event.target.value}`);
        }}
      >
        {["days", "weeks", "months", "years"].map((one) => (
          <option key={one}>{one}</option>
        ))}
      </select>
    </>
  );
}
