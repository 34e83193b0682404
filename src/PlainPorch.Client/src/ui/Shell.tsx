import { Link, NavLink, Outlet, ScrollRestoration, useLocation } from "react-router";
import { useRecordsChangedElsewhere } from "../api/recordsChanged";
import { PendingNotices } from "./PendingNotices";
import { WarningDialog } from "./WarningDialog";

const link =
  "rounded px-2 py-1 text-[15px] hover:bg-tint aria-[current=page]:font-semibold aria-[current=page]:underline underline-offset-4 decoration-2 decoration-accent";

/** The frame round every page. */
export function Shell() {
  useRecordsChangedElsewhere();
  const isBackRoom = useLocation().pathname.startsWith("/back/");
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
          <Link to="/back/sources" className={link} aria-current={isBackRoom ? "page" : undefined}>
            Back room
          </Link>
        </nav>
      </header>
      <main id="main" className="flex flex-1 flex-col px-4 py-5 sm:px-6">
        <Outlet />
      </main>
      <PendingNotices />
      <WarningDialog />
      {/* A new page begins at its top, and the way back leads to where one was. */}
      <ScrollRestoration />
    </div>
  );
}
