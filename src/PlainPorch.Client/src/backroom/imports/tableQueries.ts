import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, unwrap, type Schemas } from "../../api/client";
import { isAtWork } from "../../porch/imports/ImportProgress";

const SOON_MS = 700;

/** What imports may read, and how. */
export const importMeansQuery = queryOptions({
  queryKey: ["import means"],
  queryFn: ({ signal }) => unwrap(api.GET("/api/import-means", { signal })),
});

/** The latest imports into new tables of a source. */
export const tableImportsQuery = (id: number) =>
  queryOptions({
    queryKey: ["table imports", id],
    queryFn: ({ signal }) => unwrap(api.GET("/api/sources/{id}/imports", { params: { path: { id } }, signal })),
  });

/** An import into new tables, looked at again and again while somebody is at work on it. */
export const tableImportQuery = (id: number, one: string) =>
  queryOptions({
    queryKey: ["table imports", id, one],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/sources/{id}/imports/{import}", { params: { path: { id, import: one } }, signal })),
    refetchInterval: (query) => (query.state.data && isAtWork(query.state.data.status.state) ? SOON_MS : false),
  });

/** What would become of a table of the files. */
export const previewQuery = (id: number, one: string, place: number, settings: Schemas["ImportSettings"]) =>
  queryOptions({
    queryKey: ["table imports", id, one, "preview", place, settings],
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/sources/{id}/imports/{import}/preview/{place}", {
          params: { path: { id, import: one, place } },
          body: settings,
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  });
