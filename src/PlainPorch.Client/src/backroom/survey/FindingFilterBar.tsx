import type { Schemas } from "../../api/client";
import type { FindingFilter } from "./findings";

const select = "min-h-9 rounded border border-edge bg-sheet px-2";

const sorts: { value: FindingFilter["sort"]; label: string }[] = [
  { value: "", label: "All kinds" },
  { value: "reference", label: "References" },
  { value: "meaning", label: "What columns are" },
  { value: "shape", label: "What tables are" },
  { value: "key", label: "Keys" },
  { value: "overlap", label: "Overlaps" },
  { value: "check", label: "Proposed checks" },
];

interface FindingFilterBarProps {
  survey: Schemas["SurveyDto"];
  filter: FindingFilter;
  count: number;
  onChange: (filter: FindingFilter) => void;
}

/** Restricts findings by text, kind, table and whether they were decided. */
export function FindingFilterBar({ survey, filter, count, onChange }: FindingFilterBarProps) {
  const tables = survey.tables.map(({ schema, name }) => `${schema}.${name}`);
  return (
    <div className="flex flex-wrap items-center gap-2">
      <input
        type="search"
        aria-label="Filter the findings"
        placeholder="Table, column or word"
        value={filter.text}
        onChange={(event) => {
          // Who looks for something looks for it everywhere.
          const text = event.target.value;
          onChange(text === "" ? { ...filter, text } : { ...filter, text, part: "", trouble: "" });
        }}
        className="min-h-9 w-56 rounded border border-edge bg-sheet px-3 placeholder:text-faint"
      />
      <select
        aria-label="Kind"
        className={select}
        value={filter.sort}
        onChange={(event) => {
          onChange({ ...filter, sort: event.target.value as FindingFilter["sort"] });
        }}
      >
        {sorts.map(({ value, label }) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
      <select
        aria-label="Table"
        className={`${select} max-w-56`}
        value={filter.table}
        onChange={(event) => {
          onChange({ ...filter, table: event.target.value });
        }}
      >
        <option value="">All tables</option>
        {tables.map((table) => (
          <option key={table}>{table}</option>
        ))}
      </select>
      <select
        aria-label="Order"
        className={select}
        value={filter.order}
        onChange={(event) => {
          onChange({ ...filter, order: event.target.value as FindingFilter["order"] });
        }}
      >
        <option value="surest">Most certain first</option>
        <option value="doubtful">Least certain first</option>
        <option value="table">By table</option>
      </select>
      <label className="flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          className="size-5 accent-accent"
          checked={filter.isOpenOnly}
          onChange={(event) => {
            onChange({ ...filter, isOpenOnly: event.target.checked });
          }}
        />
        Undecided only
      </label>
      <span className="text-faint" aria-live="polite">
        {count} of {survey.findings.length}
      </span>
    </div>
  );
}
