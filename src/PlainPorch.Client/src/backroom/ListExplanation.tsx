import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { explanationQuery, type PanelAddress } from "../api/queries";
import type { ListView } from "../porch/listView";
import { Button } from "../ui/Button";
import { Failure } from "../ui/Failure";
import { Loading } from "../ui/Loading";

/** The SQL of the list beside, what of it is slow, and the indexes that would serve it. Asked for only when somebody wants to know. */
export function ListExplanation({ address, view }: { address: PanelAddress; view: ListView }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <section aria-label="How the database reads it" className="border-t border-line pt-3">
      <Button
        aria-expanded={isOpen}
        onClick={() => {
          setOpen(!isOpen);
        }}
      >
        How the database reads this list
      </Button>
      {isOpen && <Explained address={address} view={view} />}
    </section>
  );
}

function Explained({ address, view }: { address: PanelAddress; view: ListView }) {
  const explanation = useQuery(explanationQuery(address, view));
  if (explanation.isPending) return <Loading what="its plan" />;
  if (explanation.isError) return <Failure error={explanation.error} onRetry={() => void explanation.refetch()} />;
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
        <p>Nothing in it is slow.</p>
      )}
      {advice.map((index) => (
        <div key={index.sql} className="grid gap-1">
          <p>{index.reason}</p>
          <Code text={index.sql} />
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
