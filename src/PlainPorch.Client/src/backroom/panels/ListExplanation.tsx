import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap } from "../../api/client";
import { explanationQuery, type PanelAddress } from "../../api/queries";
import { fromStart, queryOf, type ListView } from "../../api/listView";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { formatSize } from "../../values/format";
import { writeNumber } from "../../values/numbers";

/** The SQL of the list beside, what of it is slow, and the indexes that would serve it. Asked for only when somebody wants to know. */
export function ListExplanation({ address, view }: { address: PanelAddress; view: ListView }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <section aria-label="How the database runs it" className="border-t border-line pt-3">
      <Button
        aria-expanded={isOpen}
        onClick={() => {
          setOpen(!isOpen);
        }}
      >
        How the database runs this list
      </Button>
      {isOpen && <Explained address={address} view={view} />}
    </section>
  );
}

function Explained({ address, view }: { address: PanelAddress; view: ListView }) {
  const explanation = useQuery(explanationQuery(address, view));
  if (explanation.isPending) return <Loading what="its plan" />;
  if (!explanation.data) return <Failure error={explanation.error} onRetry={() => void explanation.refetch()} />;
  const { sql, plan, slow, advice } = explanation.data;
  return (
    <div className="mt-3 grid gap-3">
      {slow.length > 0 ? (
        <ul className="list-disc pl-5">
          {slow.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      ) : (
        <p>No slow step was found.</p>
      )}
      {advice.map((index) => (
        <div key={index.sql} className="grid gap-1">
          <p>
            {index.reason}
            {index.bytes !== null && ` It would take about ${formatSize(index.bytes)}.`}
          </p>
          <Code text={index.sql} />
          <Trial address={address} view={view} place={index.place} />
        </div>
      ))}
      <details>
        <summary className="cursor-pointer">SQL and plan</summary>
        <div className="mt-2 grid gap-2">
          <Code text={sql} />
          <Code text={plan.join("\n")} />
        </div>
      </details>
    </div>
  );
}

interface TrialProps {
  address: PanelAddress;
  view: ListView;
  place: number;
}

function figures(value: number): string {
  return writeNumber(String(Number(value.toPrecision(3))));
}

/** Makes an index for a moment, to see what it does for this list. */
function Trial({ address, view, place }: TrialProps) {
  const trial = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/explanation/trial", {
          params: { path: address, query: { ...queryOf(fromStart(view)), index: place } },
        }),
      ),
  });
  const time = (value: number | null) =>
    value === null ? "longer than the time limit for a list" : `${figures(value)} ms`;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <Button
        disabled={trial.isPending}
        onClick={() => {
          trial.mutate();
        }}
      >
        {trial.isPending ? "Trying …" : "Try it, then drop it again"}
      </Button>
      {trial.isIdle && (
        <span className="text-sm text-faint">Nobody can write to the table while the index is being built.</span>
      )}
      {trial.data && (
        <p role="status">
          {time(trial.data.before)} without it, {time(trial.data.after)} with it; made in {figures(trial.data.building)}{" "}
          s, {formatSize(trial.data.bytes)} large.
        </p>
      )}
      {trial.isError && <Failure error={trial.error} />}
    </div>
  );
}

function Code({ text }: { text: string }) {
  return (
    <div className="flex items-start gap-2">
      <pre className="min-w-0 flex-1 overflow-x-auto rounded border border-line bg-sheet p-2 font-mono text-sm whitespace-pre-wrap">
        {text}
      </pre>
      <Button
        onClick={() => {
          void navigator.clipboard.writeText(text);
        }}
      >
        Copy
      </Button>
    </div>
  );
}
