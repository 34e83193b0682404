import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, unwrap, type Schemas } from "../api/client";
import { ApiError } from "../api/problems";
import { porchesQuery } from "../api/queries";
import { panelPath } from "../porch/listState";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";

type Snapshot = Schemas["SnapshotDto"];
type Table = Schemas["TableSummary"];

const link = "text-accent underline-offset-4 hover:underline";
const number = new Intl.NumberFormat();

/** The tables and views of a source, with a filter, and the way to a panel from each. */
export function TableList({ sourceId, snapshot }: { sourceId: number; snapshot: Snapshot }) {
  const [filter, setFilter] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: ({ schema, name }: Table) =>
      unwrap(api.POST("/api/sources/{id}/panels", { params: { path: { id: sourceId } }, body: { schema, name } })),
    onSuccess: async ({ porch, panel }) => {
      await client.invalidateQueries({ queryKey: porchesQuery.queryKey });
      await client.invalidateQueries({ queryKey: ["snapshot"] });
      void navigate(`/back/panels/${porch}/${panel}`);
    },
  });
  const shown = snapshot.tables.filter((table) => matches(table, filter));
  const failure =
    make.error instanceof ApiError ? (make.error.fields.table ?? make.error.message) : make.error?.message;
  return (
    <section className="grid gap-3" aria-label="Tables and views">
      <div className="flex flex-wrap items-center gap-3">
        <input
          type="search"
          aria-label="Filter tables"
          placeholder="Filter tables"
          value={filter}
          onChange={(event) => {
            setFilter(event.target.value);
          }}
          onKeyDown={(event) => {
            if (event.key === "Escape") setFilter("");
          }}
          className="min-h-9 w-72 rounded border border-edge bg-sheet px-3 placeholder:text-faint"
        />
        <p className="text-faint" aria-live="polite">
          {shown.length} of {snapshot.tables.length} tables and views
        </p>
      </div>
      {failure && (
        <Notice tone="danger" title="No panel was made">
          {failure}
        </Notice>
      )}
      {shown.length === 0 ? (
        <p className="border-y border-line bg-sheet px-4 py-10 text-center font-serif text-lg">
          {snapshot.tables.length === 0 ? "The chosen schemas hold no tables." : `No table matches “${filter}”.`}
        </p>
      ) : (
        <div className="relative overflow-x-auto border border-line bg-sheet">
          <table className="w-full border-collapse text-[15px]">
            <thead>
              <tr className="border-b border-edge text-left text-sm text-faint">
                <th className="px-3 py-1.5">Table</th>
                <th className="px-3 py-1.5 text-right">Rows, about</th>
                <th className="px-3 py-1.5 text-right">Columns</th>
                <th className="px-3 py-1.5">Told apart by</th>
                <th className="px-3 py-1.5">Panels</th>
                <th className="px-3 py-1.5">
                  <span className="sr-only">Make a panel</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.map((table) => (
                <tr key={`${table.schema}.${table.name}`} className="border-b border-line last:border-0">
                  <td className="px-3 py-1">
                    <Link
                      className={link}
                      to={`/back/sources/${sourceId}/table?${new URLSearchParams({ schema: table.schema, name: table.name }).toString()}`}
                    >
                      <span className="text-faint">{table.schema}.</span>
                      {table.name}
                    </Link>
                    {table.kind !== "table" && <span className="text-faint"> · {kindWords[table.kind]}</span>}
                    {table.comment && <p className="max-w-md truncate text-sm text-faint">{table.comment}</p>}
                  </td>
                  <td className="px-3 py-1 text-right">
                    {table.estimatedRows === null ? "" : number.format(table.estimatedRows)}
                  </td>
                  <td className="px-3 py-1 text-right">{table.columnCount}</td>
                  <td className="px-3 py-1">
                    {table.identity.length > 0 ? table.identity.join(", ") : <span className="text-faint">no key</span>}
                  </td>
                  <td className="px-3 py-1">
                    {table.panels.map((panel) => (
                      <Link key={panel} className={`${link} mr-2`} to={panelPath(snapshot.porch, panel)}>
                        {panel}
                      </Link>
                    ))}
                  </td>
                  <td className="px-3 py-1 text-right">
                    <Button
                      disabled={make.isPending || !table.canRead}
                      title={table.canRead ? undefined : "The database user may not read it."}
                      aria-label={`Make a panel from ${table.schema}.${table.name}`}
                      onClick={() => {
                        make.mutate(table);
                      }}
                    >
                      Make a panel
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

export const kindWords: Record<Table["kind"], string> = {
  table: "table",
  partitionedTable: "partitioned table",
  foreignTable: "table of another server",
  view: "view",
  materializedView: "materialized view",
};

function matches(table: Table, filter: string): boolean {
  const haystack = `${table.schema}.${table.name} ${table.label} ${table.comment ?? ""}`.toLowerCase();
  return filter
    .toLowerCase()
    .split(/\s+/)
    .every((word) => haystack.includes(word));
}
