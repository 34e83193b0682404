import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Link, NavLink, Outlet, ScrollRestoration, useLocation } from "react-router";
import { api, unwrap } from "../api/client";
import { useRecordsChangedElsewhere } from "../api/recordsChanged";
import { seeAs, seenAs, sessionQuery } from "../api/session";
import { PendingNotices } from "./PendingNotices";
import { WarningDialog } from "./WarningDialog";

// What few people see is fetched for them.
const SeenAsNotice = lazy(async () => ({ default: (await import("./SeenAsNotice")).SeenAsNotice }));
const NotForYou = lazy(async () => ({ default: (await import("./NotForYou")).NotForYou }));

const link =
  "rounded px-2 py-1 text-[15px] hover:bg-tint aria-[current=page]:font-semibold aria-[current=page]:underline underline-offset-4 decoration-2 decoration-accent";

/** The frame round every page. */
export function Shell() {
  useRecordsChangedElsewhere();
  const { pathname } = useLocation();
  const isBackRoom = pathname.startsWith("/back/");
  const as = seenAs();
  const person = useQuery(sessionQuery).data?.person;
  return (
    <div className="flex min-h-dvh flex-col">
      <a
        href="#main"
        className="sr-only focus:not-sr-only focus:absolute focus:top-2 focus:left-2 focus:bg-sheet focus:p-2"
      >
        Skip to content
      </a>
      <header className="flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-line px-4 py-2 sm:px-6">
        <NavLink to="/" end className="flex items-center gap-2 font-serif text-lg font-semibold">
          <img src="/porch.svg" alt="" className="size-6" />
          Plain Porch
        </NavLink>
        <nav aria-label="Main" className="flex gap-1">
          <NavLink to="/" end className={link}>
            Porches
          </NavLink>
          {person?.isDeveloper && (
            <Link to="/back/sources" className={link} aria-current={isBackRoom ? "page" : undefined}>
              Back room
            </Link>
          )}
        </nav>
        {person && (
          <div className="ml-auto flex items-center gap-1">
            <NavLink to="/account" className={link}>
              {person.name}
            </NavLink>
            <button type="button" className={link} onClick={() => void signOut()}>
              Sign out
            </button>
          </div>
        )}
      </header>
      {as && pathname.startsWith(`/porch/${as.porch}`) && (
        <Suspense>
          <SeenAsNotice as={as} />
        </Suspense>
      )}
      <main id="main" className="flex flex-1 flex-col px-4 py-5 sm:px-6">
        {isBackRoom && person?.isDeveloper === false ? (
          <Suspense>
            <NotForYou />
          </Suspense>
        ) : (
          <Outlet />
        )}
      </main>
      <PendingNotices />
      <WarningDialog />
      {/* A new page begins at its top, and the way back leads to where one was. */}
      <ScrollRestoration />
    </div>
  );
}

// The page is loaded anew, so that nothing of it is left for whoever comes next.
async function signOut() {
  seeAs(null);
  try {
    await unwrap(api.DELETE("/api/session"));
  } finally {
    window.location.assign("/");
  }
}
