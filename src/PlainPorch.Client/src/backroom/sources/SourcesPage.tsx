import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { sourcesQuery } from "../../api/queries";
import { ButtonLink } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";

/** The connected databases. */
export function SourcesPage() {
  const sources = useQuery(sourcesQuery);
  return (
    <div className="grid max-w-5xl gap-4">
      <title>Sources · Plain Porch</title>
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="mr-auto text-2xl font-semibold">Sources</h1>
        <ButtonLink to="/back/people">Everybody</ButtonLink>
        <ButtonLink to="/back/mails">Mails</ButtonLink>
        <ButtonLink to="/back/code">Code of your own</ButtonLink>
        <ButtonLink tone="next" to="/back/sources/new">
          Add a source
        </ButtonLink>
      </div>
      {sources.isPending && <Loading what="the sources" />}
      {sources.isError && <Failure error={sources.error} onRetry={() => void sources.refetch()} />}
      {sources.data?.length === 0 && <Empty title="No database is connected yet." />}
      {sources.data && sources.data.length > 0 && (
        <ul className="border-t border-line">
          {sources.data.map((source) => (
            <li key={source.id} className="flex flex-wrap items-baseline gap-x-4 border-b border-line py-2.5">
              <Link to={`/back/sources/${source.id}`} className="font-semibold link">
                {source.name}
              </Link>
              <span className="text-faint">
                {source.database} on {source.host}:{source.port}, as {source.user}
              </span>
              {source.isReadOnly && <span className="ml-auto text-faint">read-only</span>}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
