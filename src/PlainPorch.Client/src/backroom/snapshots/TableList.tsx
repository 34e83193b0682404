import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, unwrap, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import { porchesQuery, porchQuery } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { Notice } from "../../ui/Notice";
import { Tick } from "../../ui/Tick";
import { formatCount } from "../../values/format";
import { tablePath } from "../../paths";
import { everyTable, isWithin } from "./tableSight";
import { TableSights } from "./TableSights";

type Snapshot = Schemas["SnapshotDto"];
type Table = Schemas["TableSummary"];

const link = "link";
/** The tables and views of a source, with a filter, and the way to a panel from each. */
export function TableList({ sourceId, snapshot }: { sourceId: number; snapshot: Snapshot }) {
  const [filter, setFilter] = useState("");
  const [sight, setSight] = useState(everyTable);
  const [offersOthers, setOffersOthers] = useState(false);
  const porch = useQuery({ ...porchQuery(snapshot.porch), enabled: snapshot.porch !== "" });
  const labels = new Map(porch.data?.panels.map(({ slug, label }) => [slug, label]));
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
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const draft = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/sources/{id}/porch", {
          params: { path: { id: sourceId } },
          body: {
            tables: snapshot.tables
              .filter((table) => chosen.has(idOf(table)))
              .map(({ schema, name }) => ({ schema, name })),
          },
        }),
      ),
    onSuccess: async ({ porch }) => {
      await client.invalidateQueries();
      void navigate(`/porch/${porch}`);
    },
  });
  const choose = (tables: Table[], isOn: boolean) => {
    const next = new Set(chosen);
    for (const table of tables.filter(mayDraft)) {
      if (isOn) next.add(idOf(table));
      else next.delete(idOf(table));
    }
    setChosen(next);
  };
  const shown = snapshot.tables.filter((table) => matches(table, filter) && isWithin(table, sight));
  const free = shown.filter(mayDraft);
  const failure = messageOf(make.error, "table") ?? messageOf(draft.error, "tables");
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
        <TableSights tables={snapshot.tables} sight={sight} onChange={setSight} />
        <p className="text-faint" aria-live="polite">
          {shown.length} of {snapshot.tables.length} tables and views
        </p>
        {snapshot.tables.some((table) => table.panels.length > 0) && (
          <Tick label="Allow a second panel for a table" isOn={offersOthers} onTurn={setOffersOthers} />
        )}
        {chosen.size > 0 && (
          <Button
            tone="next"
            disabled={draft.isPending}
            onClick={() => {
              draft.mutate();
            }}
          >
            {draft.isPending ? "Drafting …" : `Draft ${chosen.size} ${chosen.size === 1 ? "panel" : "panels"}`}
          </Button>
        )}
      </div>
      {failure && (
        <Notice tone="danger" title="No panel was made">
          {failure}
        </Notice>
      )}
      {shown.length === 0 ? (
        <Empty
          title={
            snapshot.tables.length === 0
              ? "The selected schemas contain no tables."
              : filter === ""
                ? "No table matches."
                : `No table matches “${filter}”.`
          }
        />
      ) : (
        <div className="relative overflow-x-auto border border-line bg-sheet">
          <table className="w-full border-collapse text-[15px]">
            <thead>
              <tr className="border-b border-edge text-left text-sm text-faint">
                <th className="w-8 py-1.5 pl-3">
                  <input
                    type="checkbox"
                    aria-label="Select all tables without a panel"
                    className="block size-5 accent-accent"
                    disabled={free.length === 0}
                    checked={free.length > 0 && free.every((table) => chosen.has(idOf(table)))}
                    onChange={(event) => {
                      choose(free, event.target.checked);
                    }}
                  />
                </th>
                <th className="px-3 py-1.5">Table</th>
                <th className="px-3 py-1.5 text-right">Rows, about</th>
                <th className="px-3 py-1.5 text-right">Columns</th>
                <th className="px-3 py-1.5">Key</th>
                <th className="px-3 py-1.5">Panels</th>
                <th className="px-3 py-1.5">
                  <span className="sr-only">Make a panel</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.map((table) => (
                <tr key={`${table.schema}.${table.name}`} className="border-b border-line last:border-0">
                  <td className="py-1 pl-3">
                    {mayDraft(table) && (
                      <input
                        type="checkbox"
                        aria-label={`Select ${table.schema}.${table.name}`}
                        className="block size-5 accent-accent"
                        checked={chosen.has(idOf(table))}
                        onChange={(event) => {
                          choose([table], event.target.checked);
                        }}
                      />
                    )}
                  </td>
                  <td className="px-3 py-1">
                    <Link className={link} to={tablePath(sourceId, table)}>
                      <span className="text-faint">{table.schema}.</span>
                      {table.name}
                    </Link>
                    {table.kind !== "table" && <span className="text-faint"> · {kindWords[table.kind]}</span>}
                    {table.comment && <p className="max-w-md truncate text-sm text-faint">{table.comment}</p>}
                  </td>
                  <td className="px-3 py-1 text-right">
                    {(table.rows ?? table.estimatedRows) === null
                      ? ""
                      : formatCount(table.rows ?? table.estimatedRows ?? 0)}
                  </td>
                  <td className="px-3 py-1 text-right">{table.columnCount}</td>
                  <td className="px-3 py-1">
                    {table.identity.length > 0 ? table.identity.join(", ") : <span className="text-faint">no key</span>}
                  </td>
                  <td className="px-3 py-1">
                    {table.panels.map((panel) => (
                      <Link key={panel} className={`${link} mr-2`} to={`/back/panels/${snapshot.porch}/${panel}`}>
                        {labels.get(panel) ?? panel}
                      </Link>
                    ))}
                  </td>
                  <td className="px-3 py-1 text-right">
                    {(table.panels.length === 0 || offersOthers) && (
                      <Button
                        disabled={make.isPending || !table.canRead}
                        title={table.canRead ? undefined : "The database user may not read it."}
                        aria-label={`Make a panel from ${table.schema}.${table.name}`}
                        onClick={() => {
                          make.mutate(table);
                        }}
                      >
                        {table.panels.length === 0 ? "Make a panel" : "Make another"}
                      </Button>
                    )}
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

const idOf = ({ schema, name }: Table) => `${schema}.${name}`;

const mayDraft = ({ canRead, panels }: Table) => canRead && panels.length === 0;

function messageOf(error: Error | null, field: string): string | undefined {
  return error instanceof ApiError ? (error.fields[field] ?? error.message) : error?.message;
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
