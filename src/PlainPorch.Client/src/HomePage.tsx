import { useQuery } from "@tanstack/react-query";
import { Link, Navigate } from "react-router";
import { porchesQuery } from "./api/queries";
import { sessionQuery } from "./api/session";
import { panelPath } from "./paths";
import { panelGroups } from "./porch/panels/panelGroups";
import { ButtonLink } from "./ui/Button";
import { Failure } from "./ui/Failure";
import { Loading } from "./ui/Loading";

/** All porches, or the way to the first one. */
export function HomePage() {
  const porches = useQuery(porchesQuery);
  const isDeveloper = useQuery(sessionQuery).data?.person?.isDeveloper === true;
  if (porches.isPending) return <Loading what="the porches" />;
  if (porches.isError) return <Failure error={porches.error} onRetry={() => void porches.refetch()} />;
  if (porches.data.length === 0) return isDeveloper ? <Welcome /> : <NotLetIn />;
  const [only, ...others] = porches.data;
  // Whoever keeps one porch's records is there at once.
  if (!isDeveloper && only && others.length === 0) return <Navigate to={`/porch/${only.slug}`} replace />;
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,56rem)_18rem]">
      <title>Plain Porch</title>
      <div className="grid content-start gap-6">
        <h1 className="text-2xl font-semibold">Porches</h1>
        {porches.data.map((porch) => (
          <section key={porch.slug} className="border-t border-line pt-3">
            <h2 className="text-xl font-semibold">
              <Link to={`/porch/${porch.slug}`} className="link">
                {porch.name}
              </Link>
            </h2>
            {porch.panels.length === 0 ? (
              <p className="mt-1">
                No panels yet.{" "}
                {isDeveloper && (
                  <Link to={`/back/sources/${porch.sourceId}`} className="link">
                    Choose a table for the first one.
                  </Link>
                )}
              </p>
            ) : (
              <div className="mt-2 gap-x-8 sm:columns-2 lg:columns-3">
                {panelGroups(porch.panels).map((group) => (
                  <section key={group.name} className="mb-3 break-inside-avoid">
                    {group.name && <h3 className="text-sm font-semibold text-faint">{group.name}</h3>}
                    <ul>
                      {group.panels.map((panel) => (
                        <li key={panel.slug}>
                          <Link to={panelPath(porch.slug, panel.slug)} className="block py-0.5 link">
                            {panel.label}
                          </Link>
                        </li>
                      ))}
                    </ul>
                  </section>
                ))}
              </div>
            )}
          </section>
        ))}
      </div>
      {isDeveloper && <Another />}
    </div>
  );
}

function NotLetIn() {
  return (
    <div className="max-w-xl py-8">
      <title>Plain Porch</title>
      <h1 className="text-2xl font-semibold">There is nothing here for you yet</h1>
      <p className="mt-3">Nobody has let you into a porch, or not any more. Ask whoever invited you.</p>
    </div>
  );
}

/** How to begin with a database of one's own. */
function Another() {
  return (
    <aside aria-labelledby="another" className="border-t border-line pt-3 lg:border-t-0 lg:border-l lg:pt-0 lg:pl-6">
      <h2 id="another" className="text-lg font-semibold">
        A database of your own
      </h2>
      <p className="mt-1 text-faint">
        Paste its connection string. Plain Porch reads the schema, drafts panels, and changes nothing in it.
      </p>
      <ButtonLink to="/back/sources/new" className="mt-3">
        Add a source
      </ButtonLink>
    </aside>
  );
}

function Welcome() {
  return (
    <div className="max-w-xl py-8">
      <title>Plain Porch</title>
      <h1 className="text-3xl font-semibold">Start with a database</h1>
      <p className="mt-3 text-lg">
        Point Plain Porch at a PostgreSQL database. It reads what is there and drafts search, lists and forms for the
        people who keep the records. You correct the draft with the real thing beside it.
      </p>
      <ButtonLink tone="next" to="/back/sources/new" className="mt-6">
        Add a source
      </ButtonLink>
    </div>
  );
}
