import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, ifMatch, unwrap, type Schemas } from "../../api/client";
import { porchQuery } from "../../api/queries";
import { seeAs } from "../../api/session";
import { Button } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { ApiError } from "../../api/problems";
import { useKeptHere } from "../panels/useKeptHere";
import { slugOf, toldRoles, type Role } from "./acts";
import { RightsTable } from "./RightsTable";
import { RoleEditor } from "./RoleEditor";

const rolesQuery = (porch: string) =>
  queryOptions({
    queryKey: ["roles", porch],
    queryFn: ({ signal }) => unwrap(api.GET("/api/porches/{porch}/roles", { params: { path: { porch } }, signal })),
  });

/** What people of which role may do in a porch. */
export function RolesPage() {
  const { porch = "" } = useParams();
  const roles = useQuery(rolesQuery(porch));
  const name = useQuery(porchQuery(porch)).data?.name;
  return (
    <div className="grid max-w-6xl gap-4">
      <title>Roles · Plain Porch</title>
      <p className="print:hidden">
        <Link to={`/porch/${porch}`} className="link">
          ← {name ?? porch}
        </Link>
      </p>
      {roles.isPending && <Loading what="the roles" />}
      {roles.isError && <Failure error={roles.error} onRetry={() => void roles.refetch()} />}
      {roles.data && <Roles key={porch} porch={porch} name={name ?? porch} known={roles.data} />}
    </div>
  );
}

interface RolesProps {
  porch: string;
  name: string;
  known: Schemas["RolesDto"];
}

function Roles({ porch, name, known }: RolesProps) {
  const kept = useKeptHere<{ roles: Role[] | null }>(`plain-porch roles ${porch}`, { roles: null });
  const roles = kept.value.roles ?? toldRoles(known.roles);
  const isChanged = kept.value.roles !== null;
  const [chosen, setChosen] = useState(0);
  const [isTable, setTable] = useState(false);
  const client = useQueryClient();
  const navigate = useNavigate();
  const forget = () => {
    kept.change({ roles: null });
    kept.drop();
  };
  const save = useMutation({
    mutationFn: () =>
      unwrap(
        api.PUT("/api/porches/{porch}/roles", {
          params: { path: { porch }, header: ifMatch(known.version) },
          body: { roles },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: rolesQuery(porch).queryKey });
      forget();
    },
  });
  const problems = save.error instanceof ApiError ? save.error.fields : {};
  const role = roles[chosen];
  const change = (next: Role[]) => {
    kept.change({ roles: next });
  };
  return (
    <>
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="mr-auto text-2xl font-semibold">
          Roles <span className="hidden print:inline">of {name}</span>
        </h1>
        <div className="flex flex-wrap gap-2 print:hidden">
          <Button
            tone={isTable ? "on" : "quiet"}
            aria-pressed={isTable}
            onClick={() => {
              setTable(!isTable);
            }}
          >
            Who may do what
          </Button>
          {isTable && (
            <Button
              onClick={() => {
                window.print();
              }}
            >
              Print
            </Button>
          )}
          <Link to={`/porch/${porch}/people`} className="link self-center px-2">
            People
          </Link>
          <Button
            onClick={() => {
              change([
                ...roles,
                {
                  slug: slugOf(
                    "New role",
                    roles.map((one) => one.slug),
                  ),
                  name: "New role",
                  sees: true,
                  may: [],
                  managesPeople: false,
                  person: null,
                  panels: [],
                },
              ]);
              setChosen(roles.length);
              setTable(false);
            }}
          >
            Add a role
          </Button>
          {isChanged && <Button onClick={forget}>Discard</Button>}
          <Button
            tone="next"
            disabled={!isChanged || save.isPending}
            onClick={() => {
              save.mutate();
            }}
          >
            {save.isPending ? "Saving …" : "Save"}
          </Button>
        </div>
      </div>
      {isChanged && !save.isPending && !save.isError && (
        <Notice title="Not saved yet">People keep their rights as they were.</Notice>
      )}
      {save.isError && (
        <Notice tone="danger" title="The roles were not saved">
          {Object.keys(problems).length === 0
            ? save.error.message
            : Object.entries(problems).map(([field, message]) => (
                <p key={field}>
                  {roles[Number(field.split(".")[1])]?.name}: {message}
                </p>
              ))}
        </Notice>
      )}
      {roles.length === 0 ? (
        <Empty title="Only developers come in here.">
          <p className="mt-1 text-faint">
            A role says what people see and do. Make one, and invite people to it on the page People.
          </p>
        </Empty>
      ) : isTable ? (
        <RightsTable roles={roles} panels={known.panels} />
      ) : (
        <div className="grid gap-6 md:grid-cols-[12rem_minmax(0,1fr)]">
          <nav aria-label="Roles">
            <ul>
              {roles.map((one, place) => (
                <li key={one.slug}>
                  <button
                    type="button"
                    aria-current={place === chosen ? "true" : undefined}
                    onClick={() => {
                      setChosen(place);
                    }}
                    className="min-h-8 w-full border-l-2 border-line px-3 py-1 text-left hover:bg-tint aria-[current=true]:border-accent aria-[current=true]:font-semibold"
                  >
                    {one.name}
                  </button>
                </li>
              ))}
            </ul>
          </nav>
          {role && (
            <RoleEditor
              // Not by its name, which changes while it is typed.
              key={`${chosen} of ${roles.length}`}
              role={role}
              isNew={!known.roles.some((one) => one.slug === role.slug)}
              taken={roles.filter((one) => one !== role).map((one) => one.slug)}
              panels={known.panels}
              problems={Object.fromEntries(
                Object.entries(problems)
                  .filter(([field]) => field.startsWith(`roles.${chosen}.`))
                  .map(([field, message]) => [field.slice(`roles.${chosen}.`.length), message]),
              )}
              onChange={(next) => {
                change(roles.map((one, place) => (place === chosen ? next : one)));
              }}
              onRemove={() => {
                change(roles.filter((_, place) => place !== chosen));
                setChosen(0);
              }}
              onSeeAs={
                isChanged
                  ? null
                  : () => {
                      seeAs({ porch, role: role.slug, record: "" });
                      client.clear();
                      void navigate(`/porch/${porch}`);
                    }
              }
            />
          )}
        </div>
      )}
    </>
  );
}
