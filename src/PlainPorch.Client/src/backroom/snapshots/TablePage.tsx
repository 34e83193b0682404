import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { tableQuery } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { KeyDecision } from "./KeyDecision";
import { kindWords } from "./TableList";

type Table = Schemas["Table"];

/** All that the database declares about one table. */
export function TablePage() {
  const id = Number(useParams().id);
  const [params] = useSearchParams();
  const [schema, name] = [params.get("schema") ?? "", params.get("name") ?? ""];
  const table = useQuery(tableQuery(id, schema, name));
  return (
    <div className="grid max-w-6xl gap-4">
      <title>{`${schema}.${name} · Plain Porch`}</title>
      <p>
        <Link to={`/back/sources/${id}`} className="link">
          ← Tables
        </Link>
      </p>
      <h1 className="text-2xl font-semibold">
        {schema}.{name}
      </h1>
      {table.isPending && <Loading what="the table" />}
      {table.isError && <Failure error={table.error} onRetry={() => void table.refetch()} />}
      {table.data && <Declared sourceId={id} table={table.data} />}
    </div>
  );
}

function Declared({ sourceId, table }: { sourceId: number; table: Table }) {
  const declared = (table.keys ?? []).filter((key) => !key.isAssumed);
  return (
    <>
      <p className="text-faint">
        {kindWords[table.kind]}
        {table.comment && ` · ${table.comment}`}
      </p>
      <div className="relative overflow-x-auto border border-line bg-sheet">
        <table className="w-full border-collapse text-[15px]">
          <thead>
            <tr className="border-b border-edge text-left text-sm text-faint">
              {["Column", "Type", "Empty", "Default", "Comment"].map((head) => (
                <th key={head} className="px-3 py-1.5">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.columns.map((column) => (
              <tr key={column.name} className="border-b border-line align-top last:border-0">
                <td className="px-3 py-1 font-medium">{column.name}</td>
                <td className="px-3 py-1">
                  {column.type.domain ? `${column.type.domain} (${column.type.storeType})` : column.type.storeType}
                  {column.type.enumValues && column.type.enumValues.length > 0 && (
                    <span className="block max-w-72 text-sm text-faint">{column.type.enumValues.join(", ")}</span>
                  )}
                </td>
                <td className="px-3 py-1">{column.isNullable ? "allowed" : "not allowed"}</td>
                <td className="px-3 py-1">{describeDefault(column)}</td>
                <td className="px-3 py-1">{column.comment}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Facts title="Keys" facts={declared.map(describeKey)} none="No primary key and no unique key." />
      {canDecideKey(table) && <KeyDecision key={tableId(table)} sourceId={sourceId} table={table} />}
      <Facts title="Foreign keys" facts={(table.foreignKeys ?? []).map(describeReference)} none="None." />
      <Facts title="Checks" facts={(table.checks ?? []).map((check) => `${check.name}: ${check.sql}`)} none="None." />
    </>
  );
}

const tableId = ({ name }: Table) => `${name.schema}.${name.name}`;

// What the database itself keeps unique and filled needs no decision.
function canDecideKey(table: Table): boolean {
  if (table.kind !== "table" && table.kind !== "partitionedTable") return false;
  const isFilled = (name: string) => table.columns.some((column) => column.name === name && !column.isNullable);
  return !(table.keys ?? []).some((key) => !key.isAssumed && (key.isPrimary || key.columns.every(isFilled)));
}

function Facts({ title, facts, none }: { title: string; facts: string[]; none: string }) {
  return (
    <section>
      <h2 className="text-lg font-semibold">{title}</h2>
      {facts.length === 0 ? (
        <p className="text-faint">{none}</p>
      ) : (
        <ul>
          {facts.map((fact) => (
            <li key={fact} className="border-b border-line py-1 break-words">
              {fact}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function describeDefault(column: Schemas["Column"]): string {
  if (column.isGenerated) return "computed by the database";
  if (column.identity === "always") return "numbered by the database";
  if (column.identity === "byDefault") return "numbered by the database unless given";
  return column.defaultSql ?? "";
}

function describeKey(key: Schemas["Key"]): string {
  return `${key.isPrimary ? "Primary key" : "Unique"}: ${key.columns.join(", ")} (${key.name})`;
}

function describeReference(reference: Schemas["ForeignKey"]): string {
  const { columns, referredTable, referredColumns, onDelete } = reference;
  const rule: Record<Schemas["DeleteRule"], string> = {
    forbid: "forbids deleting it",
    cascade: "is deleted with it",
    setNull: "is emptied when it is deleted",
    setDefault: "gets its default when it is deleted",
  };
  return `${columns.join(", ")} → ${referredTable.schema}.${referredTable.name} (${referredColumns.join(", ")}); ${rule[onDelete]}`;
}
