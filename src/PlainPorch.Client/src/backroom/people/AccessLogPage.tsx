import { infiniteQueryOptions, useInfiniteQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { formatMoment } from "../../values/format";
import { sayAccess } from "./accessWords";

const logQuery = infiniteQueryOptions({
  queryKey: ["access log"],
  queryFn: ({ pageParam, signal }) =>
    unwrap(api.GET("/api/access-log", { params: { query: pageParam === null ? {} : { before: pageParam } }, signal })),
  initialPageParam: null as number | null,
  getNextPageParam: (last: Schemas["AccessPage"]) => (last.hasMore ? (last.entries.at(-1)?.id ?? null) : null),
  staleTime: 0,
});

/** Who signed in or was refused, and who changed what somebody may do. */
export function AccessLogPage() {
  const log = useInfiniteQuery(logQuery);
  const entries = log.data?.pages.flatMap((page) => page.entries);
  return (
    <div className="grid max-w-4xl gap-4">
      <title>Sign-ins and changed rights · Plain Porch</title>
      <p>
        <Link to="/back/people" className="link">
          ← Everybody
        </Link>
      </p>
      <h1 className="text-2xl font-semibold">Sign-ins and changed rights</h1>
      <p className="max-w-prose text-faint">
        What was done with records stands in the logbook of each porch. This is kept for 400 days.
      </p>
      {log.isPending && <Loading what="the log" />}
      {log.isError && <Failure error={log.error} onRetry={() => void log.refetch()} />}
      {entries?.length === 0 && <Empty title="Nothing happened yet." />}
      {entries && entries.length > 0 && (
        <ol className="border-t border-line">
          {entries.map((entry) => (
            <li key={entry.id} className="flex flex-wrap gap-x-4 border-b border-line py-2">
              <span className="mr-auto min-w-0 wrap-anywhere">
                {sayAccess(entry)}
                {entry.detail !== null && <span className="text-faint"> · {entry.detail}</span>}
              </span>
              <span className="text-sm text-faint">
                {formatMoment(entry.at)}
                {entry.from !== "" && ` from ${entry.from}`}
              </span>
            </li>
          ))}
        </ol>
      )}
      {log.hasNextPage && (
        <div>
          <Button disabled={log.isFetchingNextPage} onClick={() => void log.fetchNextPage()}>
            {log.isFetchingNextPage ? "Loading …" : "Earlier ones"}
          </Button>
        </div>
      )}
    </div>
  );
}
