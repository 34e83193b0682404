import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, unwrap, type Schemas } from "../../api/client";
import { panelQuery, setAsideCountQuery, setupQuery, type PanelAddress, codeListsQuery } from "../../api/queries";
import { bareOf } from "../../api/bare";
import { ListExplanation } from "./ListExplanation";
import { changeView, defaultView } from "../../api/listView";
import { panelPath, recordPath, setAsidePath, tablePath, tidyPath } from "../../paths";
import { LeftAsideChoice, useLeftAside } from "../../porch/removal/LeftAside";
import { startValues } from "../../porch/records/beginning";
import { RecordForm } from "../../porch/records/RecordForm";
import { RecordList } from "../../porch/query/RecordList";
import { usePanelAddress } from "../../porch/panels/usePanel";
import { Button, ButtonLink } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { RemoveDialog } from "../../ui/RemoveDialog";
import { Notice } from "../../ui/Notice";
import { ActSetup } from "./ActSetup";
import { CheckSetup } from "./CheckSetup";
import { ColumnDetail } from "./ColumnDetail";
import { isComputed } from "./computedName";
import { ComputedDetail, NewComputed } from "./ComputedSetup";
import { DraftAgain } from "./DraftAgain";
import { DraftField } from "./DraftField";
import { PanelPlace } from "./PanelPlace";
import { RemovalSetup } from "./RemovalSetup";
import { SetupGrid } from "./SetupGrid";
import { useSetupDraft, type SetupDraft } from "./useSetupDraft";

/** Sets a panel up column by column, with the real panel beside it. */
export function PanelSetupPage() {
  const address = usePanelAddress();
  const setup = useQuery(setupQuery(address));
  if (setup.isPending) return <Loading what="the panel" />;
  if (!setup.data) return <Failure error={setup.error} onRetry={() => void setup.refetch()} />;
  return <Setup key={setup.data.version} address={address} setup={setup.data} onReload={() => void setup.refetch()} />;
}

interface SetupProps {
  address: PanelAddress;
  setup: Schemas["PanelSetupDto"];
  onReload: () => void;
}

function Setup({ address, setup, onReload }: SetupProps) {
  const draft = useSetupDraft(address, setup);
  const lists = useQuery(codeListsQuery(address));
  const { definition, change, errors } = draft;
  const [current, setCurrent] = useState(definition.columns[0]?.name ?? "");
  const column = definition.columns.find(({ name }) => name === current);
  return (
    <div className="grid gap-4">
      <title>{`Set up ${definition.label} · Plain Porch`}</title>
      <p>
        <Link to={`/back/sources/${setup.sourceId}`} className="link">
          ← Tables
        </Link>
      </p>
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="mr-auto text-2xl font-semibold">
          Set up {definition.label}{" "}
          <span className="font-sans text-base font-normal text-faint">
            {definition.table.schema}.{definition.table.name}
          </span>
        </h1>
        <SavedState draft={draft} />
        <DraftAgain address={address} definition={definition} onTake={change} />
        <ButtonLink to={tidyPath(address.porch, address.panel)}>Tidy values</ButtonLink>
        <RemovePanel address={address} label={definition.label} sourceId={setup.sourceId} />
        <ButtonLink tone="next" to={panelPath(address.porch, address.panel)}>
          Open the panel
        </ButtonLink>
      </div>
      {draft.state === "stale" && (
        <Notice
          tone="danger"
          title="This panel was changed in another tab or by somebody else."
          actions={<Button onClick={onReload}>Show the current set-up</Button>}
        >
          Your changes here are not saved until you have seen the current set-up, so that nothing is overwritten.
        </Notice>
      )}
      {draft.state === "failed" && (
        <Notice
          tone="danger"
          title="The last change was not saved."
          actions={<Button onClick={draft.retry}>Save again</Button>}
        >
          {draft.message}
        </Notice>
      )}
      <div className="grid items-start gap-6 xl:grid-cols-[minmax(0,7fr)_minmax(0,5fr)]">
        <section className="grid gap-4" aria-label="Set-up">
          <div className="grid gap-3 sm:grid-cols-3">
            <DraftField
              label="Plural name"
              value={definition.label}
              error={errors.label}
              onKeep={(label) => {
                change({ label });
              }}
            />
            <DraftField
              label="Singular name"
              value={definition.recordLabel}
              error={errors.recordLabel}
              onKeep={(recordLabel) => {
                change({ recordLabel });
              }}
            />
            <DraftField
              label="Title of a record"
              value={definition.title}
              error={errors.title}
              onKeep={(title) => {
                change({ title });
              }}
            />
          </div>
          <SetupGrid
            columns={definition.columns}
            schema={setup.columns}
            errors={errors}
            onChange={draft.changeColumn}
            onMove={(name, to) => {
              change({ columns: withMoved(definition.columns, name, to) });
            }}
            onColumn={setCurrent}
          />
          <p className="text-sm text-faint">
            Arrows move, space toggles, typing changes a label; Alt with an arrow, or the handle, moves a column in list
            and form. Each change is saved at once.
          </p>
          <NewComputed
            address={address}
            definition={definition}
            byCode={setup.byCode}
            onAdd={(added) => {
              change({ columns: [...definition.columns, added] });
              setCurrent(added.name);
            }}
          />
          {column && isComputed(column) && (
            <ComputedDetail
              address={address}
              column={column}
              errors={errors}
              onChange={(part) => {
                draft.changeColumn(column.name, part);
              }}
              onRemove={() => {
                change({ columns: definition.columns.filter(({ name }) => name !== column.name) });
              }}
            />
          )}
          {column && !isComputed(column) && (
            <ColumnDetail
              address={address}
              sourceId={setup.sourceId}
              table={definition.table}
              others={definition.columns.filter(({ name }) => name !== current)}
              known={setup.columns.find(({ name }) => name === current)}
              kinds={setup.kinds}
              column={column}
              isBinary={setup.columns.find(({ name }) => name === current)?.storeType === "bytea"}
              isTime={/^(date|timestamp)/.test(setup.columns.find(({ name }) => name === current)?.storeType ?? "")}
              isText={/char|text/.test(setup.columns.find(({ name }) => name === current)?.storeType ?? "")}
              targets={setup.targets}
              lists={lists.data ?? []}
              reasons={setup.reasons}
              errors={errors}
              onChange={(part) => {
                draft.changeColumn(column.name, part);
              }}
            />
          )}
          <CheckSetup address={address} definition={definition} errors={errors} onChange={change} />
          <ActSetup address={address} definition={definition} errors={errors} onChange={change} />
          <RemovalSetup definition={definition} setup={setup} errors={errors} onChange={change} />
          <PanelPlace address={address} definition={definition} setup={setup} errors={errors} onChange={change} />
        </section>
        <section className="min-w-0 border-t-4 border-line pt-3 xl:sticky xl:top-4" aria-label="The panel as it is">
          <Preview address={address} table={tablePath(setup.sourceId, definition.table)} />
        </section>
      </div>
    </div>
  );
}

/** The columns with one of them at another place. */
function withMoved<T extends { name: string }>(columns: T[], name: string, to: number): T[] {
  const moved = columns.filter((column) => column.name === name);
  const rest = columns.filter((column) => column.name !== name);
  return [...rest.slice(0, to), ...moved, ...rest.slice(to)];
}

function Preview({ address, table }: { address: PanelAddress; table: string }) {
  const panel = useQuery(panelQuery(address));
  const [view, setView] = useState({ ...defaultView, size: 25 });
  const [part, setPart] = useState<"list" | "form">("list");
  const navigate = useNavigate();
  if (panel.isPending) return <Loading what="the panel" />;
  if (!panel.data) return <Failure error={panel.error} onRetry={() => void panel.refetch()} />;
  return (
    <div className="grid gap-3">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="mr-auto text-xl font-semibold">{panel.data.label}</h2>
        <div className="flex gap-1" role="group" aria-label="What is shown">
          {(["list", "form"] as const).map((one) => (
            <Button
              key={one}
              aria-pressed={part === one}
              className="aria-pressed:border-accent aria-pressed:bg-accent-tint"
              onClick={() => {
                setPart(one);
              }}
            >
              {one === "list" ? "List" : "Form"}
            </Button>
          ))}
        </div>
      </div>
      {panel.data.notEditable && (
        <Notice title="Read-only">
          {panel.data.notEditable.reason} {panel.data.notEditable.remedy}
        </Notice>
      )}
      {(panel.data.byPlace || panel.data.isKeyAssumed) && (
        <p className="max-w-prose text-[15px]">
          {panel.data.byPlace
            ? "The table declares no key. Records are added, changed and removed one at a time, by where they are in it; identical ones stay apart. "
            : `Records are told apart by ${panel.data.identity.join(" and ")}, as you decided. `}
          <Link to={table} className="link">
            {panel.data.byPlace ? "Name the columns that tell them apart" : "Change it"}
          </Link>
        </p>
      )}
      {part === "form" && (
        <>
          <p className="text-sm text-faint">Try it: nothing typed here is saved.</p>
          <RecordForm
            key={panel.dataUpdatedAt}
            address={address}
            panel={panel.data}
            record={null}
            isTrial
            given={bareOf(startValues(panel.data))}
            onSaved={doNothing}
            onCancel={doNothing}
          />
        </>
      )}
      {part === "list" && (
        <>
          <RecordList
            // Where files lie is nothing that the panel tells: what was not found is looked for anew.
            key={panel.data.columns.some(({ holdsPaths }) => holdsPaths) ? panel.dataUpdatedAt : undefined}
            address={address}
            panel={panel.data}
            view={view}
            onChange={(part) => {
              setView((before) => changeView(before, part));
            }}
            onOpen={(row) => void navigate(recordPath(address.porch, address.panel, row.key ?? ""))}
          />
          <ListExplanation address={address} view={view} />
        </>
      )}
    </div>
  );
}

const doNothing = () => undefined;

function SavedState({ draft }: { draft: SetupDraft }) {
  const words = { saved: "Saved", saving: "Saving …", refused: "Not saved", stale: "Not saved", failed: "Not saved" };
  return (
    <span
      role="status"
      className={draft.state === "saved" || draft.state === "saving" ? "text-faint" : "font-semibold text-danger"}
    >
      {words[draft.state]}
    </span>
  );
}

interface RemovePanelProps {
  address: PanelAddress;
  label: string;
  sourceId: number;
}

function RemovePanel({ address, label, sourceId }: RemovePanelProps) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const left = useLeftAside(setAsideCountQuery(address));
  const remove = useMutation({
    mutationFn: () =>
      unwrap(
        api.DELETE("/api/porches/{porch}/panels/{panel}", {
          params: { path: address, query: left.chosen ? { setAside: left.chosen } : {} },
        }),
      ),
    onSuccess: async () => {
      await navigate(`/back/sources/${sourceId}`);
      await client.invalidateQueries();
    },
  });
  return (
    <RemoveDialog
      kind="panel"
      name={label}
      isPending={remove.isPending}
      error={remove.error}
      isBlocked={left.isBlocked}
      onOpen={left.onOpen}
      onRemove={() => {
        remove.mutate();
      }}
    >
      <p>Its set-up is deleted permanently. The table and its records are not affected.</p>
      <LeftAsideChoice left={left} keptUntil="when a panel over the same table is made again.">
        Bring them back first if you need them:{" "}
        <Link className="link" to={setAsidePath(address.porch, address.panel)}>
          see what is set aside
        </Link>
        .
      </LeftAsideChoice>
    </RemoveDialog>
  );
}
