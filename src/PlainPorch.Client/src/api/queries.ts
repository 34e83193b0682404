import { infiniteQueryOptions, keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, unwrap, unwrapOrNull, type Schemas } from "./client";
import { filterOf, fromStart, queryOf, type ListView } from "./listView";

export interface PanelAddress {
  porch: string;
  panel: string;
}

export const porchQuery = (porch: string) =>
  queryOptions({
    queryKey: ["porches", porch],
    queryFn: ({ signal }) => unwrap(api.GET("/api/porches/{porch}", { params: { path: { porch } }, signal })),
  });

/** Panels' records that a text finds, those of all panels of a porch. */
export const findQuery = (porch: string, text: string) =>
  queryOptions({
    queryKey: ["porches", porch, "find", text],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/find", { params: { path: { porch }, query: { q: text } }, signal })),
    staleTime: 10_000,
  });

/** The lists of codes that a lookup can be made of. */
export const codeListsQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["code lists", path.porch],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/setup/lists", { params: { path }, signal })),
    staleTime: 60_000,
  });

/** What a reading makes of a column. */
export const tryReadingQuery = (path: PanelAddress, column: string, reading: Schemas["Reading"] | null) =>
  queryOptions({
    queryKey: ["reading", path.porch, path.panel, column, reading],
    queryFn: ({ signal }) => {
      if (reading === null) throw new Error("There is nothing to try.");
      return unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/setup/reading", {
          params: { path },
          body: { column, reading },
          signal,
        }),
      );
    },
    placeholderData: keepPreviousData,
  });

/** What is found of the files whose paths a column holds. */
export const lookAtFilesQuery = (path: PanelAddress, column: string, files: Schemas["FilesInFolder"]) =>
  queryOptions({
    queryKey: ["files", path.porch, path.panel, column, files],
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/setup/files", {
          params: { path },
          body: { column, files },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });

export const sourcesQuery = queryOptions({
  queryKey: ["sources"],
  queryFn: ({ signal }) => unwrap(api.GET("/api/sources", { signal })),
});

export const sourceQuery = (id: number) =>
  queryOptions({
    queryKey: ["sources", id],
    queryFn: ({ signal }) => unwrap(api.GET("/api/sources/{id}", { params: { path: { id } }, signal })),
  });

export const snapshotQuery = (id: number) =>
  queryOptions({
    queryKey: ["snapshot", id],
    queryFn: ({ signal }) => unwrap(api.GET("/api/sources/{id}/snapshot", { params: { path: { id } }, signal })),
  });

export const tableQuery = (id: number, schema: string, name: string) =>
  queryOptions({
    queryKey: ["snapshot", id, schema, name],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/sources/{id}/table", { params: { path: { id }, query: { schema, name } }, signal })),
  });

export const surveyQuery = (id: number) =>
  queryOptions({
    queryKey: ["survey", id],
    queryFn: ({ signal }) => unwrapOrNull(api.GET("/api/sources/{id}/survey", { params: { path: { id } }, signal })),
  });

export const surveyStatusQuery = (id: number) =>
  queryOptions({
    queryKey: ["survey", id, "status"],
    queryFn: ({ signal }) =>
      unwrapOrNull(api.GET("/api/sources/{id}/survey/status", { params: { path: { id } }, signal })),
    refetchInterval: (query) => (query.state.data?.state === "running" ? 700 : false),
  });

export const surveyedColumnsQuery = (id: number, schema: string, table: string) =>
  queryOptions({
    queryKey: ["survey", id, "columns", schema, table],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/sources/{id}/survey/columns", { params: { path: { id }, query: { schema, table } }, signal }),
      ),
  });

export const wordsQuery = (id: number) =>
  queryOptions({
    queryKey: ["words", id],
    queryFn: ({ signal }) => unwrap(api.GET("/api/sources/{id}/words", { params: { path: { id } }, signal })),
  });

export const porchesQuery = queryOptions({
  queryKey: ["porches"],
  queryFn: ({ signal }) => unwrap(api.GET("/api/porches", { signal })),
});

export const looseEndsQuery = (porch: string) =>
  queryOptions({
    queryKey: ["loose-ends", porch],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/loose-ends", { params: { path: { porch } }, signal })),
    // Whatever is set up or kept may make one.
    staleTime: 0,
  });

export const panelQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["panel", path.porch, path.panel],
    queryFn: ({ signal }) => unwrap(api.GET("/api/porches/{porch}/panels/{panel}", { params: { path }, signal })),
  });

export const setupQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["setup", path.porch, path.panel],
    queryFn: ({ signal }) => unwrap(api.GET("/api/porches/{porch}/panels/{panel}/setup", { params: { path }, signal })),
    // Read once: from then on the page itself knows the draft best, until another tab is noticed.
    staleTime: Infinity,
    gcTime: 0,
  });

export const recordsKey = (path: PanelAddress) => ["records", path.porch, path.panel] as const;

export const listQuery = (path: PanelAddress, view: ListView) =>
  queryOptions({
    queryKey: [...recordsKey(path), "list", view],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/records", {
          params: { path, query: { ...queryOf(view), count: false } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });

/**
 * How many records a list has: asked apart, so that the page need not wait for it, and turning pages does not ask again. Exactly,
 * whatever it takes, where that is wanted.
 */
export const countQuery = (path: PanelAddress, view: ListView, exact = false) =>
  queryOptions({
    queryKey: [...recordsKey(path), "count", filterOf(view), exact],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/count", {
          params: { path, query: { ...filterOf(view), exact: exact || undefined } },
          signal,
        }),
      ),
  });

/** The values of a column with their counts; where counting takes long, an estimate will do for the moment. */
export const valuesQuery = (path: PanelAddress, column: string, view: ListView, text = "", about = false) =>
  queryOptions({
    queryKey: [...recordsKey(path), "values", column, filterOf(view), text, about],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/values/{column}", {
          params: {
            path: { ...path, column },
            query: { ...filterOf(view), text: text || undefined, about: about || undefined },
          },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });

export const fieldsQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["fields", path.porch, path.panel],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/fields", { params: { path }, signal })),
  });

export const readingQuery = (path: PanelAddress, where: string) =>
  queryOptions({
    queryKey: ["reading", path.porch, path.panel, where],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/reading", { params: { path, query: { where } }, signal })),
  });

export const suggestionsQuery = (path: PanelAddress, text: string) =>
  queryOptions({
    queryKey: [...recordsKey(path), "suggestions", text],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/suggestions", { params: { path, query: { text } }, signal })),
  });

export const totalsQuery = (path: PanelAddress, view: ListView) =>
  queryOptions({
    queryKey: [...recordsKey(path), "totals", filterOf(view), view.columns],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/totals", {
          params: { path, query: { ...filterOf(view), columns: view.columns } },
          signal,
        }),
      ),
  });

export const explanationQuery = (path: PanelAddress, view: ListView) =>
  queryOptions({
    queryKey: [...recordsKey(path), "explanation", queryOf(fromStart(view))],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/explanation", {
          params: { path, query: queryOf(fromStart(view)) },
          signal,
        }),
      ),
  });

export const keptViewsQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: ["views", path.porch, path.panel],
    queryFn: ({ signal }) => unwrap(api.GET("/api/porches/{porch}/panels/{panel}/views", { params: { path }, signal })),
  });

export const recordQuery = (path: PanelAddress, key: string) =>
  queryOptions({
    queryKey: [...recordsKey(path), "record", key],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/records/{key}", { params: { path: { ...path, key } }, signal }),
      ),
  });

/** What stands around a record in a list. */
export const aroundQuery = (path: PanelAddress, key: string, view: ListView) =>
  queryOptions({
    queryKey: [...recordsKey(path), "around", key, queryOf(fromStart(view))],
    queryFn: ({ signal }) =>
      unwrapOrNull(
        api.GET("/api/porches/{porch}/panels/{panel}/records/{key}/around", {
          params: { path: { ...path, key }, query: queryOf(fromStart(view)) },
          signal,
        }),
      ),
  });

export const relatedQuery = (path: PanelAddress, key: string) =>
  queryOptions({
    queryKey: [...recordsKey(path), "related", key],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/records/{key}/related", {
          params: { path: { ...path, key } },
          signal,
        }),
      ),
  });

export const aboveQuery = (path: PanelAddress, key: string) =>
  queryOptions({
    queryKey: [...recordsKey(path), "above", key],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/records/{key}/above", {
          params: { path: { ...path, key } },
          signal,
        }),
      ),
  });

/** By which values the records that a lookup offers are restricted, and which of them stand first. */
export interface ChoiceLimits {
  within?: Record<string, string>;
  first?: string[];
}

export const choicesQuery = (path: PanelAddress, column: string, text: string, { within, first }: ChoiceLimits = {}) =>
  queryOptions({
    queryKey: [...recordsKey(path), "choices", column, text, JSON.stringify([within, first])],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/lookups/{column}", {
          params: {
            path: { ...path, column },
            query: {
              q: text,
              ...(within && { within: Object.keys(within), value: Object.values(within) }),
              ...(first && { first }),
            },
          },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });

/** The values of which one is chosen before a lookup's record is. */
export const beforeQuery = (path: PanelAddress, column: string, restriction: string, text: string) =>
  queryOptions({
    queryKey: [...recordsKey(path), "choices before", column, restriction, text],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/lookups/{column}/before/{restriction}", {
          params: { path: { ...path, column, restriction }, query: { q: text } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });

/** Values that other records have in a column. */
export const earlierQuery = (path: PanelAddress, column: string, text: string) =>
  queryOptions({
    queryKey: [...recordsKey(path), "earlier", column, text],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/earlier/{column}", {
          params: { path: { ...path, column }, query: { q: text } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });

export const removalPlanQuery = (path: PanelAddress, keys: string[], forGood: boolean) =>
  queryOptions({
    queryKey: ["removal-plan", path.porch, path.panel, keys, forGood],
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/removal-plan", {
          params: { path },
          body: { keys, forGood },
          signal,
        }),
      ),
    // What a removal would touch is asked anew each time: it is what the person decides by.
    staleTime: 0,
    gcTime: 0,
    refetchOnWindowFocus: false,
  });

export const setAsideQuery = (path: PanelAddress, text: string, returned: boolean) =>
  infiniteQueryOptions({
    queryKey: [...recordsKey(path), "set-aside", text, returned],
    queryFn: ({ signal, pageParam }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/set-aside", {
          params: { path, query: { q: text || undefined, before: pageParam, returned } },
          signal,
        }),
      ),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.hasMore ? last.parcels.at(-1)?.id : undefined),
  });

export const setAsideCountQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: [...recordsKey(path), "set-aside-count"],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/set-aside/count", { params: { path }, signal })),
  });

export const setAsideOfSourceQuery = (id: number) =>
  queryOptions({
    queryKey: ["source", String(id), "set-aside-count"],
    queryFn: ({ signal }) => unwrap(api.GET("/api/sources/{id}/set-aside", { params: { path: { id } }, signal })),
  });

export const mergePlanQuery = (path: PanelAddress, wish: Schemas["MergeWish"]) =>
  queryOptions({
    queryKey: [...recordsKey(path), "merge-plan", JSON.stringify(wish)],
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/duplicates/merge-plan", { params: { path }, body: wish, signal }),
      ),
    staleTime: 0,
    gcTime: 0,
  });

export const parcelOfQuery = (path: PanelAddress, key: string) =>
  queryOptions({
    queryKey: [...recordsKey(path), "parcel-of", key],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/records/{key}/parcel", {
          params: { path: { ...path, key } },
          signal,
        }),
      ),
    retry: false,
  });

export const parcelRecordsQuery = (path: PanelAddress, parcel: number, place: number) =>
  queryOptions({
    queryKey: [...recordsKey(path), "parcel", parcel, place],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/set-aside/{parcel}/parts/{place}", {
          params: { path: { ...path, parcel, place } },
          signal,
        }),
      ),
  });

export const affectedQuery = (path: PanelAddress, keys: string[], forGood: boolean, part: number) =>
  infiniteQueryOptions({
    queryKey: ["removal-plan", path.porch, path.panel, keys, forGood, "part", part],
    queryFn: ({ pageParam, signal }) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/removal-plan/records", {
          params: { path },
          body: { keys, forGood, part, skip: pageParam },
          signal,
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last, all) => (last.hasMore ? all.reduce((sum, page) => sum + page.records.length, 0) : null),
    gcTime: 0,
    refetchOnWindowFocus: false,
  });

export const returnPlanQuery = (
  path: PanelAddress,
  parcel: number,
  parts: Schemas["WantedPart"][] | null,
  choices: Schemas["ConflictChoice"][],
) =>
  queryOptions({
    queryKey: ["return-plan", path.porch, path.panel, parcel, parts, choices],
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/set-aside/{parcel}/return-plan", {
          params: { path: { ...path, parcel } },
          body: { parts, choices },
          signal,
        }),
      ),
    staleTime: 0,
    gcTime: 0,
    placeholderData: keepPreviousData,
  });

export const duplicatesQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: [...recordsKey(path), "duplicates"],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/duplicates", { params: { path }, signal })),
    refetchOnWindowFocus: false,
  });

export const orderQuery = (path: PanelAddress) =>
  queryOptions({
    queryKey: [...recordsKey(path), "order"],
    queryFn: ({ signal }) => unwrap(api.GET("/api/porches/{porch}/panels/{panel}/order", { params: { path }, signal })),
  });

export const numberingQuery = (path: PanelAddress, by: string[]) =>
  queryOptions({
    queryKey: [...recordsKey(path), "numbering", by],
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/order/numbering", {
          params: { path },
          body: { by, isPreview: true },
          signal,
        }),
      ),
  });

export const historyQuery = (path: PanelAddress, key: string) =>
  queryOptions({
    queryKey: [...recordsKey(path), "history", key],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/records/{key}/history", {
          params: { path: { ...path, key } },
          signal,
        }),
      ),
  });

export interface LogQuestion {
  q: string;
  panel: string;
  act: string;
  from: string;
  until: string;
}

/** The question as the server is asked; what is empty is left out. */
export const logParams = ({ q, panel, act, from, until }: LogQuestion) => ({
  q: q || undefined,
  panel: panel || undefined,
  act: act || undefined,
  from: from || undefined,
  until: until || undefined,
});

export const logQuery = (porch: string, question: LogQuestion) =>
  infiniteQueryOptions({
    queryKey: ["log", porch, question],
    queryFn: ({ signal, pageParam }) =>
      unwrap(
        api.GET("/api/porches/{porch}/log", {
          params: { path: { porch }, query: { ...(logParams(question) as object), before: pageParam } },
          signal,
        }),
      ),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.hasMore ? last.entries.at(-1)?.id : undefined),
    placeholderData: keepPreviousData,
  });

export const logRecordsQuery = (porch: string, entry: number) =>
  queryOptions({
    queryKey: ["log", porch, "records", entry],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/log/{entry}", { params: { path: { porch, entry } }, signal })),
  });

/** The next free number: asked when a form comes up and not again, so that whoever looks into another tab finds what was typed. */
export const nextNumberQuery = (path: PanelAddress) =>
  queryOptions({
    // Not among the records: a change in another tab must not take the form away that was opened with it.
    queryKey: ["next-number", path.porch, path.panel],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/next-number", { params: { path }, signal })),
    staleTime: Infinity,
    gcTime: 0,
    refetchOnMount: "always",
  });
