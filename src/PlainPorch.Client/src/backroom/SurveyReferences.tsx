import { useState } from "react";
import type { Schemas } from "../api/client";

type Reference = Schemas["SurveyedReference"];

const number = new Intl.NumberFormat();
const sure = 0.5;

/** The references that were found, the surest or the most doubtful first, each with its evidence. */
export function SurveyReferences({ references }: { references: Reference[] }) {
  const [doubtfulFirst, setDoubtfulFirst] = useState(false);
  const found = references.filter((reference) => !reference.declared);
  const held = found.filter((reference) => reference.confidence >= sure);
  const faint = found.filter((reference) => reference.confidence < sure);
  const declared = references.length - found.length;
  const shown = doubtfulFirst ? held.toReversed() : held;
  return (
    <section>
      <div className="mb-2 flex flex-wrap items-baseline gap-4">
        <h2 className="text-lg font-semibold">References that nobody declared</h2>
        <p className="text-faint">
          {held.length} taken for true, {faint.length} too faint; {declared} are declared
        </p>
        <label className="ml-auto flex min-h-6 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-accent"
            checked={doubtfulFirst}
            onChange={(event) => {
              setDoubtfulFirst(event.target.checked);
            }}
          />
          The most doubtful first
        </label>
      </div>
      <ul className="border-t border-line bg-sheet">
        {shown.map((reference) => (
          <Line key={`${reference.schema} ${reference.table} ${reference.columns.join()}`} reference={reference} />
        ))}
        {shown.length === 0 && <li className="border-b border-line px-3 py-2 text-faint">None that match.</li>}
      </ul>
    </section>
  );
}

function Line({ reference }: { reference: Reference }) {
  const { table, columns, refTable, refColumns, confidence, evidence, conversion, where, unmatchedExamples } =
    reference;
  return (
    <li className="grid gap-x-4 border-b border-line px-3 py-1.5 md:grid-cols-[3.5rem_minmax(0,2fr)_minmax(0,3fr)]">
      <span className="text-right">{Math.round(confidence * 100)} %</span>
      <span className="break-words">
        <strong className="font-semibold">
          {table}.{columns.join(" + ")}
        </strong>{" "}
        refers to {refTable}.{refColumns.join(" + ")}
        {where && ` where ${where}`}
      </span>
      <span className="text-faint">
        {evidence}
        {conversion && `; ${conversion}`}
        {describeRows(reference)}
        {unmatchedExamples.length > 0 && `, such as ${unmatchedExamples.join(", ")}`}
      </span>
    </li>
  );
}

function describeRows({ matched, unmatched }: Reference): string {
  if (matched === null || unmatched === null) return "";
  return `; ${number.format(matched)} rows with match, ${number.format(unmatched)} without`;
}
