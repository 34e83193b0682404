import { formatMoment } from "../../values/format";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "react-router";
import { api, unwrap, type Source } from "../../api/client";
import { looseEndsQuery, porchesQuery, setAsideOfSourceQuery, snapshotQuery, sourceQuery } from "../../api/queries";
import { tableImportPath } from "../../paths";
import { Button, ButtonLink } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { LeftAsideChoice, useLeftAside } from "../../porch/removal/LeftAside";
import { RemoveDialog } from "../../ui/RemoveDialog";
import { TableList } from "../snapshots/TableList";

/** A source with what its database holds. */
export function SourcePage() {
  const id = Number(useParams().id);
  const source = useQuery(sourceQuery(id));
  const snapshot = useQuery(snapshotQuery(id));
  const client = useQueryClient();
  const take = useMutation({
    mutationFn: () => unwrap(api.POST("/api/sources/{id}/snapshot", { params: { path: { id } } })),
    onSuccess: () => client.invalidateQueries(),
  });
  if (source.isPending) return <Loading what="the source" />;
  if (!source.data) return <Failure error={source.error} onRetry={() => void source.refetch()} />;
  const { name, database, host, port, user, isReadOnly } = source.data;
  return (
    <div className="grid max-w-6xl gap-4">
      <title>{`${name} · Plain Porch`}</title>
      <p>
        <Link to="/back/sources" className="link">
          ← Sources
        </Link>
      </p>
      <div className="flex flex-wrap items-start gap-3 md:flex-nowrap">
        <div className="mr-auto min-w-0">
          <h1 className="text-2xl font-semibold">{name}</h1>
          <p className="text-faint">
            {database} on {host}:{port}, as {user}
            {isReadOnly && ", read-only"}
            {snapshot.data && (
              <>
                {" · "}PostgreSQL {snapshot.data.serverVersion}, schema read {formatMoment(snapshot.data.takenAt)}
              </>
            )}
          </p>
        </div>
        <Button
          disabled={take.isPending}
          onClick={() => {
            take.mutate();
          }}
        >
          {take.isPending ? "Reading …" : "Read the schema again"}
        </Button>
        <ButtonLink
          tone={snapshot.data?.tables.some((table) => table.panels.length > 0) === false ? "next" : "quiet"}
          to={`/back/sources/${id}/survey`}
        >
          Survey
        </ButtonLink>
        <ButtonLink to={tableImportPath(id)}>Import files</ButtonLink>
        <LooseEndsLink sourceId={id} />
        <ButtonLink to={`/back/sources/${id}/edit`}>Settings</ButtonLink>
        <RemoveSource source={source.data} />
      </div>
      {take.isError && <Failure error={take.error} />}
      {snapshot.isPending && <Loading what="the schema" />}
      {snapshot.isError && <Failure error={snapshot.error} onRetry={() => void snapshot.refetch()} />}
      {snapshot.data && <TableList sourceId={id} snapshot={snapshot.data} />}
    </div>
  );
}

/** The way to what the source's porch leaves open; none where nothing is. */
function LooseEndsLink({ sourceId }: { sourceId: number }) {
  const porches = useQuery(porchesQuery);
  const porch = porches.data?.find((one) => one.sourceId === sourceId);
  const ends = useQuery({ ...looseEndsQuery(porch?.slug ?? ""), enabled: porch !== undefined });
  if (!porch || !ends.data || ends.data.length === 0) return null;
  return (
    <ButtonLink to={`/back/porches/${porch.slug}/loose-ends`}>
      {ends.data.length === 1 ? "1 loose end" : `${ends.data.length} loose ends`}
    </ButtonLink>
  );
}

function RemoveSource({ source }: { source: Source }) {
  const left = useLeftAside(setAsideOfSourceQuery(source.id));
  const porch = useQuery(porchesQuery).data?.find((one) => one.sourceId === source.id);
  const navigate = useNavigate();
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: () =>
      unwrap(
        api.DELETE("/api/sources/{id}", {
          params: { path: { id: source.id }, query: left.chosen ? { setAside: left.chosen } : {} },
        }),
      ),
    onSuccess: async () => {
      await navigate("/back/sources");
      await client.invalidateQueries();
    },
  });
  return (
    <RemoveDialog
      kind="source"
      name={source.name}
      isPending={remove.isPending}
      error={remove.error}
      isBlocked={left.isBlocked}
      onOpen={left.onOpen}
      onRemove={() => {
        remove.mutate();
      }}
    >
      <p>
        Its porch and panels are deleted with it, permanently. The database {source.database} itself is not touched.
      </p>
      <LeftAsideChoice left={left} keptUntil="when the same database is added as a source again.">
        {porch ? (
          <>
            Bring them back first if you need them:{" "}
            <Link className="link" to={`/porch/${porch.slug}`}>
              open the porch
            </Link>
            , and in a panel what is set aside.
          </>
        ) : (
          "They can be brought back first."
        )}
      </LeftAsideChoice>
    </RemoveDialog>
  );
}
