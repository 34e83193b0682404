import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { sourceQuery, surveyQuery } from "../api/queries";
import { Button } from "../ui/Button";
import { Failure } from "../ui/Failure";
import { SurveyReferences } from "./SurveyReferences";
import { meaningWords, shapeWords } from "./surveyWords";

type Report = Schemas["SurveyReport"];

/** What a source's schema means: references that nobody declared, and what tables and columns are. */
export function SurveyPage() {
  const id = Number(useParams().id);
  const source = useQuery(sourceQuery(id));
  const survey = useQuery(surveyQuery(id));
  const [filter, setFilter] = useState("");
  return (
    <div className="grid max-w-6xl gap-4">
      <title>{`Survey of ${source.data?.name ?? "a source"} · Plain Porch`}</title>
      <p>
        <Link to={`/back/sources/${id}`} className="text-accent underline underline-offset-4">
          ← Tables
        </Link>
      </p>
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="mr-auto text-2xl font-semibold">Survey{source.data && ` of ${source.data.name}`}</h1>
        <Button disabled={survey.isFetching} onClick={() => void survey.refetch()}>
          {survey.isFetching ? "Surveying …" : "Survey again"}
        </Button>
      </div>
      {survey.isPending && (
        <p role="status" className="py-6 text-faint">
          Looking at the rows of every table. Large schemas take up to half a minute; leaving the page stops it.
        </p>
      )}
      {survey.isError && <Failure error={survey.error} onRetry={() => void survey.refetch()} />}
      {survey.data && (
        <>
          <input
            type="search"
            aria-label="Filter what was found"
            placeholder="Filter by table, column or word"
            value={filter}
            onChange={(event) => {
              setFilter(event.target.value);
            }}
            className="min-h-9 w-80 max-w-full rounded border border-edge bg-sheet px-3 placeholder:text-faint"
          />
          <Found report={survey.data} filter={filter} />
        </>
      )}
    </div>
  );
}

function Found({ report, filter }: { report: Report; filter: string }) {
  const matches = (...texts: string[]) => {
    const haystack = texts.join(" ").toLowerCase();
    return filter
      .toLowerCase()
      .split(/\s+/)
      .every((word) => haystack.includes(word));
  };
  const references = report.references.filter((found) =>
    matches(found.table, found.columns.join(" "), found.refTable, found.evidence),
  );
  const tables = report.tables.filter((table) => matches(table.schema, table.name, shapeWords[table.shape]));
  const columns = report.columns.filter(
    (column) =>
      column.kind !== "plain" &&
      matches(column.table, column.name, column.label, meaningWords[column.kind], column.evidence),
  );
  return (
    <>
      {report.unread.length > 0 && <p className="text-faint">Could not be read: {report.unread.join(", ")}</p>}
      <SurveyReferences references={references} />
      <section>
        <h2 className="mb-2 text-lg font-semibold">What columns are</h2>
        <Facts
          heads={["Column", "Label", "It is", "Because"]}
          rows={columns.map((column) => [
            `${column.table}.${column.name}`,
            column.label,
            meaningWords[column.kind],
            column.evidence,
          ])}
        />
      </section>
      <section>
        <h2 className="mb-2 text-lg font-semibold">What tables are</h2>
        <Facts
          heads={["Table", "It is", "Records are called", "Told apart by"]}
          rows={tables.map((table) => [
            `${table.schema}.${table.name}`,
            shapeWords[table.shape],
            table.title,
            table.key.length > 0 ? table.key.join(", ") : candidates(table.candidateKeys),
          ])}
        />
      </section>
    </>
  );
}

function candidates(keys: string[][]): string {
  return keys.length === 0 ? "nothing" : `no key, but ${keys.map((key) => key.join(" and ")).join(", or ")} would do`;
}

/** A table of facts, in words. */
function Facts({ heads, rows }: { heads: string[]; rows: string[][] }) {
  if (rows.length === 0) return <p className="text-faint">None that match.</p>;
  return (
    <div className="relative overflow-x-auto border border-line bg-sheet">
      <table className="w-full border-collapse text-[15px]">
        <thead>
          <tr className="border-b border-edge text-left text-sm text-faint">
            {heads.map((head) => (
              <th key={head} scope="col" className="px-3 py-1.5">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <tr key={index} className="border-b border-line align-top last:border-0">
              {row.map((cell, i) => (
                <td key={i} className={`px-3 py-1 ${i === 0 ? "font-medium" : ""}`}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
