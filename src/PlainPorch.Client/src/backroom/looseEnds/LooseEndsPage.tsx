import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, unwrap, type Schemas } from "../../api/client";
import { looseEndsQuery, porchQuery } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";

/** What a porch's set-up leaves open, each with what would end it. */
export function LooseEndsPage() {
  const { porch = "" } = useParams();
  const outline = useQuery(porchQuery(porch));
  const ends = useQuery(looseEndsQuery(porch));
  const failed = outline.error ?? ends.error;
  return (
    <div className="grid max-w-4xl gap-4">
      <title>Loose ends · Plain Porch</title>
      {outline.data && (
        <p>
          <Link to={`/back/sources/${outline.data.sourceId}`} className="link">
            ← Tables
          </Link>
        </p>
      )}
      <h1 className="text-2xl font-semibold">Loose ends{outline.data && ` of ${outline.data.name}`}</h1>
      {ends.isPending && <Loading what="the loose ends" />}
      {failed && <Failure error={failed} onRetry={() => void ends.refetch()} />}
      {ends.data?.length === 0 && (
        <Empty title="No loose ends.">
          <p className="mt-1 text-faint">
            Records that have a running order are listed in it everywhere, and every expression can be read.
          </p>
        </Empty>
      )}
      {ends.data && ends.data.length > 0 && (
        <ul className="border-t border-line">
          {ends.data.map((end) => (
            <LooseEndLine
              key={`${end.kind} ${end.panel} ${end.subject}`}
              porch={porch}
              end={end}
              label={outline.data?.panels.find((panel) => panel.slug === end.panel)?.label ?? end.panel}
            />
          ))}
        </ul>
      )}
    </div>
  );
}

interface LooseEndLineProps {
  porch: string;
  end: Schemas["LooseEnd"];
  label: string;
}

function LooseEndLine({ porch, end, label }: LooseEndLineProps) {
  const client = useQueryClient();
  const mend = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/porches/{porch}/loose-ends/mend", { params: { path: { porch } }, body: end })),
    onSettled: () => client.invalidateQueries(),
  });
  return (
    <li className="grid gap-x-4 gap-y-2 border-b border-line py-3 sm:grid-cols-[1fr_auto]">
      <div>
        <p>
          <Link to={`/back/panels/${porch}/${end.panel}`} className="font-semibold link">
            {label}
          </Link>
        </p>
        <p className="max-w-prose">{end.problem}</p>
        {!end.canBeMended && <p className="mt-1 max-w-prose text-faint">{end.remedy}</p>}
        {mend.isError && <Failure error={mend.error} />}
      </div>
      {end.canBeMended && (
        <Button
          className="self-start justify-self-start"
          disabled={mend.isPending}
          onClick={() => {
            mend.mutate();
          }}
        >
          {mend.isPending ? "Fixing …" : end.remedy.replace(/\.$/, "")}
        </Button>
      )}
    </li>
  );
}
