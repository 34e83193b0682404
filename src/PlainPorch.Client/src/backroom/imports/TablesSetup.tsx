import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, unwrap, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { TableSetup } from "./TableSetup";
import { importMeansQuery, tableImportQuery } from "./tableQueries";

const SAVED_AFTER_MS = 600;

interface TablesSetupProps {
  id: number;
  one: string;
  settings: Schemas["ImportSettings"];
  tables: Schemas["LookedTable"][];
  error: Error | null;
  isPending: boolean;
  onRun: (settings: Schemas["ImportSettings"]) => void;
}

/** What becomes of each table of the files, to be changed before it is made. */
export function TablesSetup({ id, one, settings: kept, tables, error, isPending, onRun }: TablesSetupProps) {
  const [settings, setSettings] = useState(kept);
  const [open, setOpen] = useState(0);
  const means = useQuery(importMeansQuery);
  const client = useQueryClient();
  const fields = error instanceof ApiError ? error.fields : {};
  useEffect(() => {
    if (settings === kept) return;
    // Whoever leaves the page finds what was chosen when coming back.
    const timer = setTimeout(() => {
      void unwrap(
        api.PUT("/api/sources/{id}/imports/{import}/settings", {
          params: { path: { id, import: one } },
          body: settings,
        }),
      )
        .then(() => {
          client.setQueryData(tableImportQuery(id, one).queryKey, (now) => now && { ...now, settings });
        })
        .catch(() => undefined);
    }, SAVED_AFTER_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [client, id, kept, one, settings]);
  const wanted = settings.tables ?? [];
  const change = (place: number, table: Schemas["TableSettings"]) => {
    setSettings((now) => ({ ...now, tables: now.tables?.map((other, at) => (at === place ? table : other)) }));
  };
  const taken = wanted.filter((table) => !table.isLeftOut).length;
  const wrong = [...new Set(Object.keys(fields).flatMap((field) => /^tables\.(\d+)/.exec(field)?.[1] ?? []))].map(
    Number,
  );
  return (
    <div className="grid gap-4">
      {tables.length > 1 && (
        <ul aria-label="Tables" className="flex flex-wrap gap-2">
          {tables.map((table, place) => (
            <li key={place}>
              <Button
                tone={place === open ? "on" : "quiet"}
                aria-pressed={place === open}
                onClick={() => {
                  setOpen(place);
                }}
              >
                <span className={wanted[place]?.isLeftOut ? "text-faint line-through" : ""}>
                  {wanted[place]?.name ?? table.name}
                </span>
                {wrong.includes(place) && <span className="text-danger">!</span>}
              </Button>
            </li>
          ))}
        </ul>
      )}
      {tables[open] && wanted[open] && means.data && (
        <TableSetup
          key={open}
          id={id}
          one={one}
          place={open}
          looked={tables[open]}
          settings={settings}
          table={wanted[open]}
          forms={means.data.forms}
          errors={fields}
          onChange={(table) => {
            change(open, table);
          }}
        />
      )}
      {fields.tables && (
        <p role="alert" className="font-medium text-danger">
          {fields.tables}
        </p>
      )}
      {wrong.length > 0 && (
        <p role="alert" className="font-medium text-danger">
          {wrong.map((place) => wanted[place]?.name ?? "").join(", ")}: correct what is marked.
        </p>
      )}
      {error && Object.keys(fields).length === 0 && <Failure error={error} />}
      <div className="border-t-2 border-ink pt-4">
        <Button
          tone="next"
          disabled={isPending || taken === 0}
          onClick={() => {
            onRun(settings);
          }}
        >
          {taken === 1 ? "Make the table and its panel" : `Make ${taken} tables and their panels`}
        </Button>
      </div>
    </div>
  );
}
