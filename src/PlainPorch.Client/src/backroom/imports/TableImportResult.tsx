import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { porchesQuery, snapshotQuery } from "../../api/queries";
import { panelPath, tableImportPath, tablePath } from "../../paths";
import { RejectedRows } from "../../porch/imports/RejectedRows";
import { ButtonLink } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { formatCount } from "../../values/format";

interface TableImportResultProps {
  sourceId: number;
  status: Schemas["ImportStatus"];
  result: Schemas["ImportedTable"][];
}

/** What was made of files: tables, and the panels over them. */
export function TableImportResult({ sourceId, status, result }: TableImportResultProps) {
  const snapshot = useQuery(snapshotQuery(sourceId));
  const porch = useQuery(porchesQuery).data?.find((one) => one.sourceId === sourceId);
  const panelOf = (table: Schemas["ImportedTable"]) =>
    snapshot.data?.tables.find((one) => one.schema === table.schema && one.name === table.name)?.panels[0];
  const first = result.map(panelOf).find((panel) => panel !== undefined);
  const rejected = result.flatMap((table) => table.rejected);
  return (
    <>
      <Notice
        title="It is done."
        actions={
          <>
            {porch && first && (
              <ButtonLink tone="next" to={panelPath(porch.slug, first)}>
                Open the panel
              </ButtonLink>
            )}
            <ButtonLink to={tableImportPath(sourceId)}>Import other files</ButtonLink>
          </>
        }
      >
        {status.problem}
      </Notice>
      <ul className="border-t border-line">
        {result.map((table) => {
          const panel = panelOf(table);
          return (
            <li key={`${table.schema}.${table.name}`} className="border-b border-line py-2">
              <Link className="link font-medium" to={tablePath(sourceId, table)}>
                {table.schema}.{table.name}
              </Link>
              : {formatCount(table.new)} rows
              {table.rejected.length > 0 && `, ${formatCount(table.rejected.length)} left out`}
              {porch && panel && (
                <>
                  {" · "}
                  <Link className="link" to={panelPath(porch.slug, panel)}>
                    its panel
                  </Link>
                </>
              )}
              <span className="block max-w-prose text-sm text-faint">{table.notes?.join(" ")}</span>
            </li>
          );
        })}
      </ul>
      {rejected.length > 0 && (
        <RejectedRows
          rows={rejected}
          columns={result.length === 1 ? (result[0]?.fileColumns ?? []) : []}
          href={`/api/sources/${sourceId}/imports/${status.id}/rejected.csv`}
        />
      )}
    </>
  );
}
