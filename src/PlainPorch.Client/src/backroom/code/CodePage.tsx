import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { formatMoment } from "../../values/format";

const codeQuery = queryOptions({
  queryKey: ["code"],
  queryFn: ({ signal }) => unwrap(api.GET("/api/code", { signal })),
  // What is outstanding is done in the background.
  staleTime: 0,
  refetchInterval: 5_000,
});

/** The code of one's own that is loaded, and what it still has to do after acts. */
export function CodePage() {
  const code = useQuery(codeQuery);
  return (
    <div className="grid max-w-5xl gap-4 wrap-anywhere">
      <title>Code of your own · Plain Porch</title>
      <p>
        <Link to="/back/sources" className="link">
          ← Sources
        </Link>
      </p>
      <h1 className="text-2xl font-semibold">Code of your own</h1>
      {code.isPending && <Loading what="the code" />}
      {code.isError && <Failure error={code.error} onRetry={() => void code.refetch()} />}
      {code.data && (
        <>
          <Assemblies code={code.data} />
          {(code.data.folder !== null || code.data.outstanding.length > 0) && (
            <Outstanding effects={code.data.outstanding} />
          )}
        </>
      )}
    </div>
  );
}

function Assemblies({ code }: { code: Schemas["CodeDto"] }) {
  if (code.folder === null)
    return (
      <Empty title="No folder is set.">
        <p className="mt-1 text-faint">
          Start Plain Porch with PORCH_CODE set to the folder that your assemblies are in. What they can do is told in
          docs/code.md.
        </p>
      </Empty>
    );
  return (
    <section className="grid gap-2">
      <p className="text-faint">Loaded from {code.folder} when the program started.</p>
      {code.assemblies.length === 0 && <Empty title="There are no assemblies in it." />}
      <ul className="border-t border-line">
        {code.assemblies.map((assembly) => (
          <li key={assembly.file} className="grid gap-1 border-b border-line py-2.5">
            <p className="flex flex-wrap items-baseline gap-x-4">
              <span className="font-semibold">{assembly.file}</span>
              {assembly.version !== "" && <span className="text-faint">{assembly.version}</span>}
            </p>
            {assembly.problem !== null && <p className="text-danger">Not used: {assembly.problem}</p>}
            {assembly.codes.map(({ name, table, column, reads }) => (
              <p key={name}>
                {name}{" "}
                <span className="text-faint">
                  {column === null
                    ? `for the records of ${table}`
                    : `${reads === null ? "offers values for" : "computes"} ${column} of ${table}`}
                </span>
              </p>
            ))}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Outstanding({ effects }: { effects: Schemas["OutstandingEffect"][] }) {
  return (
    <section className="grid gap-2">
      <h2 className="text-lg font-semibold">
        Outstanding <span className="font-normal text-faint">{effects.length === 0 ? "nothing" : effects.length}</span>
      </h2>
      <p className="text-faint">What your code is to do after something was saved or removed, until it is done.</p>
      {effects.length > 0 && (
        <ul className="border-t border-line">
          {effects.map((effect) => (
            <OutstandingLine key={effect.id} effect={effect} />
          ))}
        </ul>
      )}
    </section>
  );
}

function OutstandingLine({ effect }: { effect: Schemas["OutstandingEffect"] }) {
  const client = useQueryClient();
  const again = useMutation({
    mutationFn: () => unwrap(api.POST("/api/code/effects/{id}/again", { params: { path: { id: effect.id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["code"] }),
  });
  return (
    <li className="flex flex-wrap items-start gap-x-4 gap-y-1 border-b border-line py-2.5">
      <div className="grid min-w-0 flex-1 gap-0.5">
        <p>
          <span className="font-semibold">{effect.title}</span>{" "}
          <span className="text-faint">
            {formatMoment(effect.at)} · {effect.code}
          </span>
        </p>
        <p className="font-mono text-sm break-words">{effect.content}</p>
        {effect.problem !== null && <p className="text-danger">{effect.problem}</p>}
        <p className="text-sm text-faint">
          {effect.attempts === 0
            ? "Not tried yet."
            : `Tried ${effect.attempts === 1 ? "once" : `${effect.attempts} times`}; ${
                effect.dueAt === null ? "given up until you ask for it." : `again at ${formatMoment(effect.dueAt)}.`
              }`}
        </p>
        {again.isError && <Failure error={again.error} />}
      </div>
      <Button
        disabled={again.isPending}
        onClick={() => {
          again.mutate();
        }}
      >
        Try again now
      </Button>
    </li>
  );
}
