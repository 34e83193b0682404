import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, unwrapOrNull, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { formatCount } from "../../values/format";

type Table = Schemas["Table"];

interface KeyDecisionProps {
  sourceId: number;
  table: Table;
}

/** What tells the records of a table apart that declares no key: decided here, by what the data says. */
export function KeyDecision({ sourceId, table }: KeyDecisionProps) {
  const decided = table.keys?.find((key) => key.isAssumed)?.columns ?? [];
  const [columns, setColumns] = useState<string[]>(decided);
  const client = useQueryClient();
  const { schema, name } = table.name;
  const counted = useQuery({
    queryKey: ["snapshot", sourceId, schema, name, "key", columns],
    enabled: columns.length > 0,
    queryFn: ({ signal }) =>
      unwrapOrNull(
        api.GET("/api/sources/{id}/table/key", {
          params: { path: { id: sourceId }, query: { schema, name, columns } },
          signal,
        }),
      ),
  });
  const decide = useMutation({
    mutationFn: (chosen: string[]) =>
      unwrap(
        api.PUT("/api/sources/{id}/table/key", {
          params: { path: { id: sourceId } },
          body: { schema, name, columns: chosen },
        }),
      ),
    onSuccess: async (_, chosen) => {
      setColumns(chosen);
      await client.invalidateQueries();
    },
  });
  const isDecided = decided.length > 0 && decided.join("\n") === columns.join("\n");
  return (
    <fieldset className="grid max-w-3xl gap-3 border-l-4 border-edge bg-tint px-4 py-3">
      <legend className="sr-only">What tells its records apart</legend>
      <p className="font-semibold">Which columns tell its records apart?</p>
      <p className="max-w-prose text-[15px]">
        {decided.length > 0
          ? `You decided: ${decided.join(" and ")}. `
          : "Nobody declared a key, so records are changed and removed one at a time, by where they are in the table. "}
        With a decision here, they get links, related records and a history, and several can be selected. The database
        does not see to it that no two have the same values; therefore every change first makes sure that it means one
        record, and is refused otherwise.
      </p>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {table.columns.map((column) => (
          <label key={column.name} className="flex min-h-7 items-center gap-2 text-[15px]">
            <input
              type="checkbox"
              className="size-4 accent-accent"
              checked={columns.includes(column.name)}
              onChange={(event) => {
                setColumns(
                  event.target.checked ? [...columns, column.name] : columns.filter((chosen) => chosen !== column.name),
                );
              }}
            />
            {column.name}
          </label>
        ))}
      </div>
      <p role="status" className="min-h-6 text-[15px]">
        {columns.length === 0
          ? ""
          : counted.isPending
            ? "Counting …"
            : counted.data === null
              ? "The table is too large to count in 20 seconds."
              : counted.data && describe(counted.data)}
      </p>
      {counted.isError && columns.length > 0 && <Failure error={counted.error} />}
      {decide.isError && <Failure error={decide.error} />}
      <div className="flex flex-wrap gap-2">
        <Button
          tone="next"
          disabled={columns.length === 0 || isDecided || counted.isError || decide.isPending}
          onClick={() => {
            decide.mutate(columns);
          }}
        >
          {columns.length === 0 ? "Use as the key" : `Use ${columns.join(" and ")} as the key`}
        </Button>
        {decided.length > 0 && (
          <Button
            disabled={decide.isPending}
            onClick={() => {
              decide.mutate([]);
            }}
          >
            Use no key
          </Button>
        )}
      </div>
    </fieldset>
  );
}

function describe({ rows, repeated, empty }: Schemas["KeyEvidence"]): string {
  if (rows === 0) return "The table is empty: any columns would do.";
  if (repeated === 0 && empty === 0) return `${formatCount(rows)} records: no two alike, none empty.`;
  const wrong = [
    ...(repeated > 0 ? [`${formatCount(repeated)} have the same values as another`] : []),
    ...(empty > 0 ? [empty === 1 ? "1 is empty there" : `${formatCount(empty)} are empty there`] : []),
  ];
  return `${formatCount(rows)} records: ${wrong.join(", ")}. Those could be read here, but not changed.`;
}
