import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api, unwrap, type Panel, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { sessionQuery } from "../../api/session";
import { importPath } from "../../paths";
import { ButtonLink } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Field, inputClass } from "../../ui/Field";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { WithPanel } from "../panels/usePanel";
import { BackToList } from "../query/BackToList";
import { FileDrop } from "./FileDrop";
import { ImportList } from "./ImportList";
import { ImportProgress, isAtWork } from "./ImportProgress";
import { panelImportQuery, panelImportsQuery, recipesQuery } from "./importQueries";
import { MatchSetup } from "./MatchSetup";
import { PanelImportResult } from "./PanelImportResult";
import { ReadAs, type Reading } from "./ReadAs";
import { Recipes } from "./Recipes";

/** Brings a file into a panel. */
export function PanelImportPage() {
  const id = useParams().import;
  return (
    <WithPanel>
      {(address, panel) => (
        <div className="grid max-w-6xl gap-4">
          <title>{`Import · ${panel.label}`}</title>
          <BackToList address={address} panel={panel} />
          <h1 className="text-2xl font-semibold">Import into {panel.label}</h1>
          {id === undefined ? (
            <Beginning address={address} />
          ) : (
            <One key={id} address={address} panel={panel} id={id} />
          )}
        </div>
      )}
    </WithPanel>
  );
}

function Beginning({ address }: { address: PanelAddress }) {
  const navigate = useNavigate();
  const earlier = useQuery(panelImportsQuery(address));
  const recipes = useQuery(recipesQuery(address));
  const session = useQuery(sessionQuery);
  const [recipe, setRecipe] = useState<number | null>(null);
  const begun = useRef("");
  const look = useMutation({
    mutationFn: () => askToLook(address, begun.current, {}),
    onSettled: () => navigate(importPath(address.porch, address.panel, begun.current)),
  });
  const base = `/api/porches/${address.porch}/panels/${address.panel}`;
  return (
    <>
      {recipes.data && recipes.data.length > 0 && (
        <Field label="Recipe">
          {(slots) => (
            <select
              {...slots}
              className={`${inputClass} max-w-md`}
              value={recipe ?? ""}
              onChange={(event) => {
                setRecipe(event.target.value === "" ? null : Number(event.target.value));
              }}
            >
              <option value="">None: find out what the file is</option>
              {recipes.data.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      <FileDrop
        isSeveral={false}
        onBegin={async () => {
          if (recipe !== null) return `${base}/recipes/${recipe}/runs?planOnly=true`;
          const made = await unwrap(
            api.POST("/api/porches/{porch}/panels/{panel}/imports", { params: { path: address } }),
          );
          begun.current = made.status.id;
          return `${base}/imports/${made.status.id}/files`;
        }}
        onSent={([answer]) => {
          if (recipe === null) look.mutate();
          else void navigate(importPath(address.porch, address.panel, (answer as Schemas["ImportStatus"]).id));
        }}
      />
      {earlier.data && (
        <ImportList imports={earlier.data} pathOf={(one) => importPath(address.porch, address.panel, one)} />
      )}
      {recipes.data && (
        <Recipes address={address} recipes={recipes.data} canWatch={session.data?.person?.isDeveloper === true} />
      )}
    </>
  );
}

const askToLook = (path: PanelAddress, id: string, body: Reading & { table?: string | null }) =>
  unwrap(
    api.POST("/api/porches/{porch}/panels/{panel}/imports/{import}/look", {
      params: { path: { ...path, import: id } },
      body: { delimiter: null, encoding: null, hasHead: null, table: null, ...body },
    }),
  );

function One({ address, panel, id }: { address: PanelAddress; panel: Panel; id: string }) {
  const client = useQueryClient();
  const query = panelImportQuery(address, id);
  const found = useQuery(query);
  const path = { ...address, import: id };
  const refetch = () => client.invalidateQueries({ queryKey: query.queryKey });
  const look = useMutation({
    mutationFn: (reading: Reading & { table?: string | null }) => askToLook(address, id, reading),
    onSettled: refetch,
  });
  const plan = useMutation({
    mutationFn: (settings: Schemas["PanelImportSettings"]) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/imports/{import}/plan", { params: { path }, body: settings }),
      ),
    onSettled: refetch,
  });
  const run = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/porches/{porch}/panels/{panel}/imports/{import}/run", { params: { path } })),
    onSettled: refetch,
  });
  const stop = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/porches/{porch}/panels/{panel}/imports/{import}/stop", { params: { path } })),
    onSettled: refetch,
  });
  useRecordsAnew(address, found.data?.status.state);
  if (found.isPending) return <Loading what="the import" />;
  if (!found.data) return <Failure error={found.error} onRetry={() => void found.refetch()} />;
  const { status, settings, tables } = found.data;
  const fields = look.error instanceof ApiError ? look.error.fields : {};
  const problem = status.problem && (
    <Notice tone="danger" title={status.state === "ready" ? "It was not brought in." : "It could not be done."}>
      {status.problem}
    </Notice>
  );
  if (isAtWork(status.state))
    return (
      <ImportProgress
        status={status}
        onStop={() => {
          stop.mutate();
        }}
      />
    );
  if (found.data.result)
    return <PanelImportResult address={address} panel={panel} found={found.data} onChange={refetch} />;
  return (
    <>
      {problem}
      {status.state === "stopped" && <Notice title="It was cancelled.">Nothing was written.</Notice>}
      <Failure error={stop.error} />
      <div className="grid gap-1">
        <p>
          <span className="font-medium">{status.files.map((file) => file.name).join(", ")}</span>{" "}
          <ButtonLink to={importPath(address.porch, address.panel)} className="ml-2">
            Choose another file
          </ButtonLink>
        </p>
      </div>
      <ReadAs
        reading={settings?.reading ?? {}}
        errors={fields}
        isPending={look.isPending}
        onRead={(reading) => {
          look.mutate({ ...reading, table: settings?.table ?? null });
        }}
      />
      {look.isError && Object.keys(fields).length === 0 && <Failure error={look.error} />}
      {settings && tables.length > 0 && (
        <MatchSetup
          key={`${settings.table} ${found.data.status.files[0]?.id ?? ""} ${JSON.stringify(settings.reading)}`}
          address={address}
          found={found.data}
          settings={settings}
          error={plan.error ?? run.error}
          isPending={plan.isPending || run.isPending}
          onTable={(table) => {
            look.mutate({ ...settings.reading, table });
          }}
          onPlan={(wanted) => {
            plan.mutate(wanted);
          }}
          onRun={() => {
            run.mutate();
          }}
        />
      )}
    </>
  );
}

/** What lists and forms know of the panel's records is read anew once a file was brought in or taken back. */
function useRecordsAnew(address: PanelAddress, state: Schemas["ImportState"] | undefined) {
  const client = useQueryClient();
  const before = useRef(state);
  const changed = useEffectEvent(() => void client.invalidateQueries({ queryKey: ["porches", address.porch] }));
  useEffect(() => {
    if (before.current !== undefined && before.current !== state && (state === "done" || state === "takenBack"))
      changed();
    before.current = state;
  }, [state]);
}
