import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, unwrap, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import { sourceQuery, surveyQuery, surveyStatusQuery } from "../../api/queries";
import { Button, ButtonLink } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { Tick } from "../../ui/Tick";
import { FindingsView } from "./FindingsView";
import { SurveyProgress } from "./SurveyProgress";
import { useSurvey } from "./useSurvey";
import { WordsView } from "./WordsView";

// The layout library is larger than the rest of the program: only who looks at the picture fetches it.
const SchemaPicture = lazy(() => import("./SchemaPicture").then((module) => ({ default: module.SchemaPicture })));

const views = [
  { name: "", label: "Findings" },
  { name: "picture", label: "Picture of the tables" },
  { name: "words", label: "Words" },
];

/** What a source's schema means: the evidence, the developer's decisions, and a whole porch drafted from both. */
export function SurveyPage() {
  const id = Number(useParams().id);
  const [params] = useSearchParams();
  const view = params.get("view") ?? "";
  const source = useQuery(sourceQuery(id));
  const status = useQuery(surveyStatusQuery(id));
  const { start } = useSurvey(id);
  const isRunning = status.data?.state === "running";
  const survey = useQuery({ ...surveyQuery(id), enabled: status.isSuccess && !isRunning });
  if (source.isError) return <Failure error={source.error} onRetry={() => void source.refetch()} />;
  return (
    <div className="grid gap-4">
      <title>{`Survey of ${source.data?.name ?? "a source"} · Plain Porch`}</title>
      <p>
        <Link to={`/back/sources/${id}`} className="link">
          ← Tables
        </Link>
      </p>
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="mr-auto text-2xl font-semibold">Survey{source.data && ` of ${source.data.name}`}</h1>
        {survey.data && (
          <Button
            disabled={isRunning || start.isPending}
            onClick={() => {
              start.mutate(false);
            }}
          >
            Survey again
          </Button>
        )}
        {survey.data && !isRunning && <DraftPorch sourceId={id} survey={survey.data} />}
      </div>
      {status.data && <SurveyProgress sourceId={id} status={status.data} />}
      {start.isError && <Failure error={start.error} />}
      {status.isSuccess && !isRunning && survey.data === null && (
        <FirstSurvey
          isPending={start.isPending}
          onStart={(thenDraft) => {
            start.mutate(thenDraft);
          }}
        />
      )}
      {survey.isError && <Failure error={survey.error} onRetry={() => void survey.refetch()} />}
      {survey.isLoading && <Loading what="what was found" />}
      {survey.data && (
        <>
          <nav aria-label="Views of the survey" className="flex flex-wrap gap-x-5 border-b border-line">
            {views.map(({ name, label }) => (
              <Link
                key={name}
                to={name ? `?view=${name}` : "?"}
                aria-current={view === name ? "page" : undefined}
                className="-mb-px border-b-2 border-transparent px-1 py-1.5 hover:border-edge aria-[current=page]:border-accent aria-[current=page]:font-semibold"
              >
                {label}
              </Link>
            ))}
          </nav>
          {survey.data.unread.length > 0 && (
            <p className="text-faint">Could not be read: {survey.data.unread.join(", ")}</p>
          )}
          {view === "picture" ? (
            <Suspense fallback={<Loading what="the picture" />}>
              <SchemaPicture survey={survey.data} />
            </Suspense>
          ) : view === "words" ? (
            <WordsView sourceId={id} />
          ) : (
            <FindingsView sourceId={id} survey={survey.data} />
          )}
        </>
      )}
    </div>
  );
}

function FirstSurvey({ isPending, onStart }: { isPending: boolean; onStart: (thenDraft: boolean) => void }) {
  return (
    <div className="max-w-2xl py-4">
      <p className="text-lg">
        A survey reads rows of every table and works out what they mean: which columns refer to which tables, what
        codes, dates and markers stand for, how records are named. It changes nothing and takes a few seconds.
      </p>
      <p className="mt-2 text-lg">
        From it, the panels of a whole porch can be drafted in one step, for you to correct.
      </p>
      <div className="mt-5 flex flex-wrap gap-2">
        <Button
          tone="next"
          disabled={isPending}
          onClick={() => {
            onStart(true);
          }}
        >
          Survey and draft a porch
        </Button>
        <Button
          disabled={isPending}
          onClick={() => {
            onStart(false);
          }}
        >
          Survey only
        </Button>
      </div>
    </div>
  );
}

function DraftPorch({ sourceId, survey }: { sourceId: number; survey: Schemas["SurveyDto"] }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const missing = survey.tables.filter((table) => table.panel === null && table.isProposed);
  const filled = missing.filter((table) => table.rows > 0);
  const [leavesEmpty, setLeavesEmpty] = useState(false);
  const chosen = leavesEmpty ? filled : missing;
  const draft = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/sources/{id}/porch", {
          params: { path: { id: sourceId } },
          body: { tables: chosen.map(({ schema, name }) => ({ schema, name })) },
        }),
      ),
    onSuccess: async ({ porch }) => {
      await client.invalidateQueries();
      void navigate(`/porch/${porch}`);
    },
  });
  if (missing.length === 0) return <ButtonLink to={`/porch/${survey.porch}`}>Open the porch</ButtonLink>;
  const problem = draft.error instanceof ApiError ? draft.error.fields.tables : undefined;
  const empty = missing.length - filled.length;
  return (
    <>
      {empty > 0 && filled.length > 0 && (
        <Tick label={`Leave out ${empty} that are empty`} isOn={leavesEmpty} onTurn={setLeavesEmpty} />
      )}
      <Button
        tone="next"
        disabled={draft.isPending || chosen.length === 0}
        title="Existing panels stay as they are."
        onClick={() => {
          draft.mutate();
        }}
      >
        {draft.isPending
          ? "Drafting …"
          : `Draft panels for ${chosen.length} ${chosen.length === 1 ? "table" : "tables"}`}
      </Button>
      {draft.isError && (
        <div className="basis-full">
          <Notice tone="danger" title="No panel was made">
            {problem ?? draft.error.message}
          </Notice>
        </div>
      )}
    </>
  );
}
