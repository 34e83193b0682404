import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, unwrap, type Schemas, type Source } from "../../api/client";
import { ApiError } from "../../api/problems";
import { sourceQuery } from "../../api/queries";
import { tableImportPath } from "../../paths";
import { FileDrop } from "../../porch/imports/FileDrop";
import { ImportList } from "../../porch/imports/ImportList";
import { ImportProgress, isAtWork } from "../../porch/imports/ImportProgress";
import { ReadAs, type Reading } from "../../porch/imports/ReadAs";
import { ButtonLink } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { FolderFiles } from "./FolderFiles";
import { TableImportResult } from "./TableImportResult";
import { TablesSetup } from "./TablesSetup";
import { importMeansQuery, tableImportQuery, tableImportsQuery } from "./tableQueries";

/** Brings files into new tables of a source, with panels over them. */
export function TableImportPage() {
  const { id: given, import: one } = useParams();
  const id = Number(given);
  const source = useQuery(sourceQuery(id));
  if (source.isPending) return <Loading what="the source" />;
  if (!source.data) return <Failure error={source.error} onRetry={() => void source.refetch()} />;
  return (
    <div className="grid max-w-6xl gap-4">
      <title>{`Import files · ${source.data.name}`}</title>
      <p>
        <Link to={`/back/sources/${id}`} className="link">
          ← {source.data.name}
        </Link>
      </p>
      <h1 className="text-2xl font-semibold">Import files into new tables of {source.data.name}</h1>
      {one === undefined ? <Beginning source={source.data} /> : <One key={one} id={id} one={one} />}
    </div>
  );
}

const askToLook = (id: number, one: string, body: Reading) =>
  unwrap(
    api.POST("/api/sources/{id}/imports/{import}/look", {
      params: { path: { id, import: one } },
      body: { delimiter: null, encoding: null, hasHead: null, schema: null, ...body },
    }),
  );

function Beginning({ source }: { source: Source }) {
  const navigate = useNavigate();
  const earlier = useQuery(tableImportsQuery(source.id));
  const means = useQuery(importMeansQuery);
  const begun = useRef("");
  const [problem, setProblem] = useState<Error | null>(null);
  const begin = async () => {
    const made = await unwrap(api.POST("/api/sources/{id}/imports", { params: { path: { id: source.id } } }));
    begun.current = made.status.id;
    return made.status.id;
  };
  const look = async () => {
    await askToLook(source.id, begun.current, {}).catch(setProblem);
    await navigate(tableImportPath(source.id, begun.current));
  };
  if (source.isReadOnly)
    return (
      <Notice
        title="This source is read-only."
        actions={<ButtonLink to={`/back/sources/${source.id}/edit`}>Settings</ButtonLink>}
      >
        Allow writing in its settings to import files.
      </Notice>
    );
  return (
    <>
      <FileDrop
        isSeveral
        onBegin={async () => `/api/sources/${source.id}/imports/${await begin()}/files`}
        onSent={() => void look()}
      />
      <Failure error={problem} />
      {means.data?.folder != null && (
        <FolderFiles
          means={means.data}
          onTake={async (paths) => {
            const one = await begin();
            await unwrap(
              api.POST("/api/sources/{id}/imports/{import}/folder-files", {
                params: { path: { id: source.id, import: one } },
                body: { paths },
              }),
            );
            await look();
          }}
        />
      )}
      {earlier.data && <ImportList imports={earlier.data} pathOf={(one) => tableImportPath(source.id, one)} />}
    </>
  );
}

function One({ id, one }: { id: number; one: string }) {
  const client = useQueryClient();
  const query = tableImportQuery(id, one);
  const found = useQuery(query);
  const path = { id, import: one };
  const refetch = () => client.invalidateQueries({ queryKey: query.queryKey, exact: true });
  const look = useMutation({ mutationFn: (reading: Reading) => askToLook(id, one, reading), onSettled: refetch });
  const run = useMutation({
    mutationFn: (settings: Schemas["ImportSettings"]) =>
      unwrap(api.POST("/api/sources/{id}/imports/{import}/run", { params: { path }, body: settings })),
    onSettled: refetch,
  });
  const stop = useMutation({
    mutationFn: () => unwrap(api.POST("/api/sources/{id}/imports/{import}/stop", { params: { path } })),
    onSettled: refetch,
  });
  if (found.isPending) return <Loading what="the import" />;
  if (!found.data) return <Failure error={found.error} onRetry={() => void found.refetch()} />;
  const { status, settings, tables, result } = found.data;
  const fields = look.error instanceof ApiError ? look.error.fields : {};
  if (isAtWork(status.state))
    return (
      <ImportProgress
        status={status}
        onStop={() => {
          stop.mutate();
        }}
      />
    );
  if (result) return <TableImportResult sourceId={id} status={status} result={result} />;
  return (
    <>
      {status.problem && (
        <Notice tone="danger" title="It could not be done.">
          {status.problem}
        </Notice>
      )}
      {status.state === "stopped" && <Notice title="It was cancelled.">Nothing was written.</Notice>}
      <p>
        <span className="font-medium">{status.files.map((file) => file.name).join(", ")}</span>
        <ButtonLink to={tableImportPath(id)} className="ml-3">
          Choose other files
        </ButtonLink>
      </p>
      <ReadAs
        reading={settings ?? {}}
        errors={fields}
        isPending={look.isPending}
        onRead={(reading) => {
          look.mutate(reading);
        }}
      />
      {look.isError && Object.keys(fields).length === 0 && <Failure error={look.error} />}
      {settings && tables.length > 0 && (
        <TablesSetup
          key={found.data.status.seconds}
          id={id}
          one={one}
          settings={settings}
          tables={tables}
          error={run.error}
          isPending={run.isPending}
          onRun={(wanted) => {
            run.mutate(wanted);
          }}
        />
      )}
    </>
  );
}
