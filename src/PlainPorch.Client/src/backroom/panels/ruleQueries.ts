import { queryOptions } from "@tanstack/react-query";
import { api, unwrap } from "../../api/client";
import type { PanelAddress } from "../../api/queries";

/** What can be named in a panel's expressions. */
export const ruleWordsQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["rules", path, "words"],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/rules/words", { params: { path }, signal })),
  });

/** Checks that nearly all records of a panel keep to. */
export const proposedChecksQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["rules", path, "proposals"],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/rules/proposals", { params: { path }, signal })),
  });

/** What an expression comes to on the records that there are. */
export const ruleTrialQuery = (path: PanelAddress, text: string) =>
  queryOptions({
    queryKey: ["rules", path, "trial", text],
    queryFn: ({ signal }) =>
      unwrap(api.POST("/api/porches/{porch}/panels/{panel}/rules/trial", { params: { path }, body: { text }, signal })),
    staleTime: 10_000,
  });

/** What it costs to list a panel's records in order of an expression, or those of which it is true. */
export const ruleCostQuery = (path: PanelAddress, text: string) =>
  queryOptions({
    queryKey: ["rules", path, "cost", text],
    queryFn: ({ signal }) =>
      unwrap(api.POST("/api/porches/{porch}/panels/{panel}/rules/cost", { params: { path }, body: { text }, signal })),
    staleTime: 10_000,
  });
