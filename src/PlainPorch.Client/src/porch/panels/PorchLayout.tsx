import { useQuery } from "@tanstack/react-query";
import { Navigate, NavLink, Outlet, useLocation, useNavigate, useParams } from "react-router";
import { porchQuery } from "../../api/queries";
import { seenAs, sessionQuery } from "../../api/session";
import { ButtonLink } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { panelPath } from "../../paths";
import { writeDatesAs } from "../../values/dates";
import { writeNumbersAs } from "../../values/numbers";
import { FindBox } from "./FindBox";
import { panelGroups } from "./panelGroups";

function usePorch() {
  const { porch = "" } = useParams();
  return useQuery(porchQuery(porch));
}

/** A porch: its panels at the side, or above on a narrow screen. */
export function PorchLayout() {
  const porch = usePorch();
  const { panel = "" } = useParams();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const isDeveloper = useQuery(sessionQuery).data?.person?.isDeveloper === true;
  if (porch.isPending) return <Loading what="the porch" />;
  // What is shown already stays, with all that was typed, while the server is away.
  if (!porch.data) return <Failure error={porch.error} onRetry={() => void porch.refetch()} />;
  const { slug, name, panels, dates, numbers, hasLog, managesPeople } = porch.data;
  const others = [
    ...(hasLog ? [{ to: "log", label: "Logbook" }] : []),
    ...(managesPeople ? [{ to: "people", label: "People" }] : []),
  ];
  const other = others.find(({ to }) => pathname === `/porch/${slug}/${to}`);
  writeDatesAs(dates);
  writeNumbersAs(numbers);
  const groups = panelGroups(panels);
  const hidden = panels.find((item) => item.slug === panel && item.isHidden);
  return (
    <div className="flex flex-1 flex-col gap-4 lg:flex-row lg:gap-8">
      <nav aria-label={`Panels of ${name}`} className="lg:w-52 lg:shrink-0">
        <p className="mb-2 font-serif font-semibold max-lg:sr-only">{name}</p>
        <div className="flex gap-2 lg:block">
          <FindBox key={slug} porch={slug} panels={panels} />
          <select
            aria-label="Panel"
            value={other?.to ?? panel}
            onChange={(event) => void navigate(panelPath(slug, event.target.value))}
            className="min-h-9 min-w-0 flex-1 rounded border border-edge bg-sheet px-2 lg:hidden"
          >
            {hidden && <option value={hidden.slug}>{hidden.label}</option>}
            {groups.map((group) => (
              <optgroup key={group.name} label={group.name || name}>
                {group.panels.map((item) => (
                  <option key={item.slug} value={item.slug}>
                    {item.label}
                  </option>
                ))}
              </optgroup>
            ))}
            {others.map(({ to, label }) => (
              <option key={to} value={to}>
                {label}
              </option>
            ))}
          </select>
        </div>
        <div className="hidden gap-3 lg:grid">
          {groups.map((group) => (
            <section key={group.name} aria-label={group.name || undefined}>
              {group.name && <h2 className="mb-0.5 font-sans text-sm font-semibold text-faint">{group.name}</h2>}
              <ul>
                {group.panels.map((item) => (
                  <li key={item.slug}>
                    <NavLink
                      to={panelPath(slug, item.slug)}
                      className="block border-l-2 border-line px-3 py-0.5 hover:bg-tint aria-[current=page]:border-accent aria-[current=page]:font-semibold"
                    >
                      {item.label}
                    </NavLink>
                  </li>
                ))}
              </ul>
            </section>
          ))}
        </div>
        <ul className="mt-3 hidden lg:block">
          {others.map(({ to, label }) => (
            <li key={to}>
              <NavLink
                to={`/porch/${slug}/${to}`}
                className="block border-l-2 border-line px-3 py-0.5 hover:bg-tint aria-[current=page]:border-accent aria-[current=page]:font-semibold"
              >
                {label}
              </NavLink>
            </li>
          ))}
          {isDeveloper && seenAs()?.porch !== slug && (
            <li>
              <NavLink
                to={`/back/porches/${slug}/roles`}
                className="block border-l-2 border-line px-3 py-0.5 hover:bg-tint"
              >
                Roles
              </NavLink>
            </li>
          )}
        </ul>
      </nav>
      <div className="min-w-0 flex-1">
        <Outlet />
      </div>
    </div>
  );
}

/** A porch's own address leads to its first panel. */
export function PorchStart() {
  const porch = usePorch();
  const isDeveloper = useQuery(sessionQuery).data?.person?.isDeveloper === true;
  const first = porch.data && (panelGroups(porch.data.panels)[0]?.panels[0] ?? porch.data.panels[0]);
  if (!porch.data) return null;
  if (first) return <Navigate to={panelPath(porch.data.slug, first.slug)} replace />;
  return (
    <div className="py-10 text-center">
      <p className="font-serif text-lg">
        {porch.data.name} has no panels {isDeveloper ? "yet" : "for you"}.
      </p>
      {isDeveloper && (
        <ButtonLink tone="next" className="mt-4" to={`/back/sources/${porch.data.sourceId}`}>
          Choose a table for the first one
        </ButtonLink>
      )}
    </div>
  );
}
