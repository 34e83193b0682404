import { formatMoment } from "../../values/format";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useRef } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { useSurvey } from "./useSurvey";

/** How far a survey is, with the way to stop it; and once it has ended, how. */
export function SurveyProgress({ sourceId, status }: { sourceId: number; status: Schemas["SurveyStatus"] }) {
  const { stop } = useSurvey(sourceId);
  const client = useQueryClient();
  const before = useRef(status.state);
  const ended = useEffectEvent(() => void client.invalidateQueries());
  useEffect(() => {
    // Whoever watched it run sees at once what it found and what it drafted.
    if (before.current === "running" && status.state !== "running") ended();
    before.current = status.state;
  }, [status.state]);

  switch (status.state) {
    case "running":
      return (
        <Running
          status={status}
          onStop={() => {
            stop.mutate();
          }}
          isStopping={stop.isPending || status.isStopping}
        />
      );
    case "failed":
      return (
        <Notice tone="danger" title="The last survey failed.">
          {status.problem}
        </Notice>
      );
    case "stopped":
      return <Notice title="The last survey was stopped.">Earlier findings are kept.</Notice>;
    default:
      return (
        <p className="text-faint">
          Surveyed {status.endedAt && formatMoment(status.endedAt)}
          {status.problem && `. No panels were drafted: ${status.problem}`}
        </p>
      );
  }
}

interface RunningProps {
  status: Schemas["SurveyStatus"];
  isStopping: boolean;
  onStop: () => void;
}

function Running({ status, isStopping, onStop }: RunningProps) {
  return (
    <div role="status" className="grid max-w-2xl gap-2 border-l-4 border-accent bg-sheet px-4 py-3">
      <p>
        {status.step}
        {status.total > 1 && (
          <span className="text-faint">
            {" "}
            · {status.done} of {status.total}
          </span>
        )}
      </p>
      <progress
        aria-label={status.step}
        max={Math.max(1, status.total)}
        value={status.done}
        className="h-2 w-full accent-accent"
      />
      <div className="flex flex-wrap items-center gap-3">
        <Button disabled={isStopping} onClick={onStop}>
          {isStopping ? "Stopping …" : "Stop"}
        </Button>
        <span className="text-sm text-faint">
          It only reads, and continues if you{" "}
          <Link to="/back/sources" className="link">
            leave the page
          </Link>
          .
        </span>
      </div>
    </div>
  );
}
