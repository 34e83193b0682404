import { isRouteErrorResponse, useRouteError, type RouteObject } from "react-router";
import { LooseEndsPage } from "./backroom/LooseEndsPage";
import { PanelSetupPage } from "./backroom/PanelSetupPage";
import { SourceFormPage } from "./backroom/SourceFormPage";
import { SourcePage } from "./backroom/SourcePage";
import { SourcesPage } from "./backroom/SourcesPage";
import { SurveyPage } from "./backroom/SurveyPage";
import { TablePage } from "./backroom/TablePage";
import { HomePage } from "./HomePage";
import { DuplicatesPage } from "./porch/DuplicatesPage";
import { EditPage, NewPage } from "./porch/EditPage";
import { ListPage } from "./porch/ListPage";
import { PorchLayout, PorchStart } from "./porch/PorchLayout";
import { LogPage } from "./porch/history/LogPage";
import { RecordPage } from "./porch/RecordPage";
import { SetAsidePage } from "./porch/removal/SetAsidePage";
import { ButtonLink } from "./ui/Button";
import { Shell } from "./ui/Shell";

export const routes: RouteObject[] = [
  {
    element: <Shell />,
    errorElement: <Broken />,
    children: [
      { path: "/", element: <HomePage /> },
      {
        path: "/porch/:porch",
        element: <PorchLayout />,
        children: [
          { index: true, element: <PorchStart /> },
          { path: "log", element: <LogPage /> },
          { path: ":panel", element: <ListPage /> },
          { path: ":panel/set-aside", element: <SetAsidePage /> },
          { path: ":panel/duplicates", element: <DuplicatesPage /> },
          { path: ":panel/new", element: <NewPage /> },
          { path: ":panel/record/:key", element: <RecordPage /> },
          { path: ":panel/record/:key/edit", element: <EditPage /> },
        ],
      },
      { path: "/back/sources", element: <SourcesPage /> },
      { path: "/back/sources/new", element: <SourceFormPage /> },
      { path: "/back/sources/:id", element: <SourcePage /> },
      { path: "/back/sources/:id/edit", element: <SourceFormPage /> },
      { path: "/back/sources/:id/table", element: <TablePage /> },
      { path: "/back/sources/:id/survey", element: <SurveyPage /> },
      { path: "/back/porches/:porch/loose-ends", element: <LooseEndsPage /> },
      { path: "/back/panels/:porch/:panel", element: <PanelSetupPage /> },
    ],
  },
];

function Broken() {
  const error = useRouteError();
  const missing = isRouteErrorResponse(error) && error.status === 404;
  return (
    <div className="p-8">
      <h1 className="text-2xl font-semibold">{missing ? "There is no such page" : "The page broke"}</h1>
      <p className="my-3 max-w-prose">
        {missing
          ? "The address may be mistyped, or what it led to is gone."
          : "This is a fault of Plain Porch. Records that were saved are safe."}
      </p>
      <ButtonLink tone="next" to="/">
        Go to the porches
      </ButtonLink>
    </div>
  );
}
