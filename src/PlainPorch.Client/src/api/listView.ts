/** What a list shows: it is what stands in the address. */
export interface ListView {
  search: string;
  /** Conditions as JSON; "" for none. */
  where: string;
  /** Columns to order by, each as it travels: "-" before it for descending; empty for the panel’s default order. */
  sort: string[];
  size: number;
  /** The page, from 1; 0 where a place was gone to and nobody counted. */
  page: number;
  /** The place of the page in the order; "" to count pages off. */
  at: string;
  /** A lookup column, to list only what refers to one record; "" for all. */
  of: string;
  /** The value of that record in the column that the lookup points to. */
  value: string;
  /** The values that the list is narrowed to. */
  narrowed: string[];
  /** The columns that are to hold what does not fit their meaning. */
  unfit: string[];
  /** An expression that is to come to false; "" for none. */
  breaks: string;
  /** The columns, in order; empty for the panel's own. */
  columns: string[];
  /** Whether the records are wanted that are marked as set aside; never in an address. */
  isAside?: boolean;
}

export const defaultView: ListView = {
  search: "",
  where: "",
  sort: [],
  size: 50,
  page: 1,
  at: "",
  of: "",
  value: "",
  narrowed: [],
  unfit: [],
  breaks: "",
  columns: [],
};

export type ChangeView = (change: Partial<ListView>) => void;

/** Applies a change; anything but turning a page starts at the first one again. */
export function changeView(view: ListView, change: Partial<ListView>): ListView {
  return { ...fromStart(view), ...change };
}

/** What restricts a list, as the server is asked. */
export function filterOf(view: ListView) {
  return {
    q: view.search || undefined,
    where: view.where || undefined,
    of: view.of || undefined,
    value: view.of ? view.value : undefined,
    in: view.narrowed,
    unfit: view.unfit,
    breaks: view.breaks || undefined,
  };
}

/** The list from its beginning. */
export function fromStart(view: ListView): ListView {
  return { ...view, page: 1, at: "" };
}

/** All that a list asks the server for. */
export function queryOf(view: ListView) {
  return {
    ...filterOf(view),
    sort: view.sort,
    columns: view.columns,
    aside: view.isAside ? "true" : undefined,
    size: String(view.size),
    page: view.page === 0 ? undefined : String(view.page),
    at: view.at || undefined,
  };
}

export function viewToParams(view: ListView): URLSearchParams {
  const params = new URLSearchParams();
  if (view.search) params.set("q", view.search);
  if (view.where) params.set("where", view.where);
  if (view.of) {
    params.set("of", view.of);
    params.set("value", view.value);
  }
  for (const text of view.narrowed) params.append("in", text);
  for (const text of view.unfit) params.append("unfit", text);
  if (view.breaks) params.set("breaks", view.breaks);
  for (const text of view.sort) params.append("sort", text);
  for (const text of view.columns) params.append("columns", text);
  if (view.size !== defaultView.size) params.set("size", String(view.size));
  if (view.page !== 1) params.set("page", String(view.page));
  if (view.at) params.set("at", view.at);
  return params;
}

export function viewFromParams(params: URLSearchParams): ListView {
  return {
    search: params.get("q") ?? "",
    where: params.get("where") ?? "",
    sort: params.getAll("sort").filter((text) => text !== ""),
    size: readCount(params.get("size"), defaultView.size),
    page: readCount(params.get("page"), 1),
    at: params.get("at") ?? "",
    of: params.get("of") ?? "",
    value: params.get("value") ?? "",
    narrowed: params.getAll("in"),
    unfit: params.getAll("unfit").filter((text) => text !== ""),
    breaks: params.get("breaks") ?? "",
    columns: params.getAll("columns").filter((text) => text !== ""),
  };
}

/** Whether anything restricts the list that a reader can take off. */
export function isRestricted(view: ListView): boolean {
  const texts = [view.search, view.where, view.of, view.breaks];
  return texts.some((text) => text !== "") || view.narrowed.length + view.unfit.length > 0;
}

function readCount(text: string | null, otherwise: number): number {
  return text !== null && /^\d{1,8}$/.test(text) ? Number(text) : otherwise;
}
