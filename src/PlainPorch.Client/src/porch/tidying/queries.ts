import { queryOptions } from "@tanstack/react-query";
import { api, unwrap } from "../../api/client";
import type { PanelAddress } from "../../api/queries";

/** The columns whose values can be tidied. */
export const tidyColumnsQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["tidying", path.porch, path.panel],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/tidying", { params: { path }, signal })),
  });

/** How a column's values are spelled: not read again by itself, so that nothing moves under what is typed. */
export const spellingsQuery = (path: PanelAddress, column: string) =>
  queryOptions({
    queryKey: ["tidying", path.porch, path.panel, column],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/tidying/{column}", {
          params: { path: { ...path, column } },
          signal,
        }),
      ),
    staleTime: Infinity,
    gcTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  });

/** How far a tidying is. */
export const tidyProgressQuery = (path: PanelAddress, column: string, key: string) =>
  queryOptions({
    queryKey: ["tidying", path.porch, path.panel, column, key],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/tidying/{column}/progress/{key}", {
          params: { path: { ...path, column, key } },
          signal,
        }),
      ),
    refetchInterval: 700,
    gcTime: 0,
  });
