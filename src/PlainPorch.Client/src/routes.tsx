import { lazy, Suspense, type ComponentType } from "react";
import { isRouteErrorResponse, useRouteError, type RouteObject } from "react-router";
import { HomePage } from "./HomePage";
import { ListPage } from "./porch/query/ListPage";
import { Gate } from "./people/Gate";
import { AddingTarget, type AddTargetProps } from "./porch/records/addingTarget";
import { PorchLayout, PorchStart } from "./porch/panels/PorchLayout";
import { Button, ButtonLink } from "./ui/Button";
import { Loading } from "./ui/Loading";
import { Shell } from "./ui/Shell";

const FETCH_AHEAD_MS = 300;

/** Pages of one part of the program, which is fetched when the first of them is opened. */
function pagesOf<T extends Record<string, ComponentType>>(load: () => Promise<T>) {
  return (page: keyof T) => async () => ({ Component: (await load())[page] });
}

// The list is there first; what follows it is fetched while somebody looks at it, so that no step waits.
const forms = () => import("./porch/records/formPages");
window.addEventListener("load", () => setTimeout(() => void forms().catch(() => undefined), FETCH_AHEAD_MS));

const formPage = pagesOf(async () => {
  const { EditPage, NewPage, RecordPage } = await forms();
  return { EditPage, NewPage, RecordPage };
});
const AddTarget = lazy(async () => ({ default: (await forms()).AddTarget }));
// What is not needed to keep records comes when it is asked for.
const rarePage = pagesOf(() => import("./porch/rarePages"));
const peoplePage = pagesOf(() => import("./people/pages"));
const backRoom = pagesOf(() => import("./backroom/pages"));

const showAdding = (props: AddTargetProps) => (
  <Suspense>
    <AddTarget {...props} />
  </Suspense>
);

export const routes: RouteObject[] = [
  {
    element: (
      <Gate>
        <Shell />
      </Gate>
    ),
    errorElement: <Broken />,
    // What the page shows while the back room's part of the program is still on its way.
    hydrateFallbackElement: <Loading what="the page" />,
    children: [
      { path: "/", element: <HomePage /> },
      {
        path: "/porch/:porch",
        element: (
          <AddingTarget value={showAdding}>
            <PorchLayout />
          </AddingTarget>
        ),
        children: [
          { index: true, element: <PorchStart /> },
          { path: "log", lazy: rarePage("LogPage") },
          { path: "people", lazy: peoplePage("PeoplePage") },
          { path: ":panel", element: <ListPage /> },
          { path: ":panel/set-aside", lazy: rarePage("SetAsidePage") },
          { path: ":panel/duplicates", lazy: rarePage("DuplicatesPage") },
          { path: ":panel/tidy", lazy: rarePage("TidyPage") },
          { path: ":panel/several", lazy: rarePage("EntryPage") },
          { path: ":panel/import/:import?", lazy: rarePage("PanelImportPage") },
          { path: ":panel/new", lazy: formPage("NewPage") },
          { path: ":panel/record/:key", lazy: formPage("RecordPage") },
          { path: ":panel/record/:key/edit", lazy: formPage("EditPage") },
        ],
      },
      // The gate shows it, whoever is signed in.
      { path: "/password", element: null },
      { path: "/account", lazy: peoplePage("AccountPage") },
      { path: "/back/people", lazy: backRoom("EverybodyPage") },
      { path: "/back/access-log", lazy: backRoom("AccessLogPage") },
      { path: "/back/mails", lazy: backRoom("MailsPage") },
      { path: "/back/porches/:porch/roles", lazy: backRoom("RolesPage") },
      { path: "/back/sources", lazy: backRoom("SourcesPage") },
      { path: "/back/sources/new", lazy: backRoom("SourceFormPage") },
      { path: "/back/sources/:id", lazy: backRoom("SourcePage") },
      { path: "/back/sources/:id/edit", lazy: backRoom("SourceFormPage") },
      { path: "/back/sources/:id/table", lazy: backRoom("TablePage") },
      { path: "/back/sources/:id/survey", lazy: backRoom("SurveyPage") },
      { path: "/back/sources/:id/imports/:import?", lazy: backRoom("TableImportPage") },
      { path: "/back/code", lazy: backRoom("CodePage") },
      { path: "/back/porches/:porch/loose-ends", lazy: backRoom("LooseEndsPage") },
      { path: "/back/panels/:porch/:panel", lazy: backRoom("PanelSetupPage") },
    ],
  },
];

function Broken() {
  const error = useRouteError();
  if (isUnfetched(error)) return <Unfetched />;
  const missing = isRouteErrorResponse(error) && error.status === 404;
  return (
    <div className="p-8">
      <h1 className="text-2xl font-semibold">{missing ? "Page not found" : "Something went wrong"}</h1>
      <p className="my-3 max-w-prose">
        {missing
          ? "The address may be mistyped, or the page no longer exists."
          : "This is a bug in Plain Porch. Saved records are safe."}
      </p>
      <ButtonLink tone="next" to="/">
        Go to the porches
      </ButtonLink>
    </div>
  );
}

// Browsers word it differently; all of them name what they were doing.
function isUnfetched(error: unknown): boolean {
  return error instanceof TypeError && /import|module|fetch/i.test(error.message);
}

function Unfetched() {
  return (
    <div className="p-8">
      <h1 className="text-2xl font-semibold">The page could not be loaded</h1>
      <p className="my-3 max-w-prose">
        The server cannot be reached, or has just been updated. Saved records are safe.
      </p>
      <Button
        tone="next"
        onClick={() => {
          window.location.reload();
        }}
      >
        Reload
      </Button>
    </div>
  );
}
