import { queryOptions } from "@tanstack/react-query";
import { api, unwrap } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { isAtWork } from "./ImportProgress";

const SOON_MS = 700;

/** The latest imports into a panel. */
export const panelImportsQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["imports", path.porch, path.panel],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/imports", { params: { path }, signal })),
  });

/** The recipes of a panel. */
export const recipesQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["recipes", path.porch, path.panel],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/recipes", { params: { path }, signal })),
  });

/** An import into a panel, looked at again and again while somebody is at work on it. */
export const panelImportQuery = (path: PanelAddress, id: string) =>
  queryOptions({
    queryKey: ["imports", path.porch, path.panel, id],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/imports/{import}", {
          params: { path: { ...path, import: id } },
          signal,
        }),
      ),
    refetchInterval: (query) => (query.state.data && isAtWork(query.state.data.status.state) ? SOON_MS : false),
    refetchIntervalInBackground: false,
  });
