import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";

/** What a list shows: it is what stands in the address. */
export interface ListView {
  search: string;
  /** A column's name, with a leading hyphen for descending; "" for the panel's own order. */
  sort: string;
  size: number;
  page: number;
  /** A lookup column, to list only what refers to one record; "" for all. */
  of: string;
  /** The value of that record in the column that the lookup points to. */
  value: string;
  /** The values that the list is narrowed to. */
  narrowed: string[];
}

export const defaultView: ListView = { search: "", sort: "", size: 50, page: 1, of: "", value: "", narrowed: [] };

export type ChangeView = (change: Partial<ListView>) => void;

/** Applies a change; anything but turning a page starts at the first one again. */
export function changeView(view: ListView, change: Partial<ListView>): ListView {
  return { ...view, page: 1, ...change };
}

export function viewToParams(view: ListView): URLSearchParams {
  const params = new URLSearchParams();
  if (view.search) params.set("q", view.search);
  if (view.of) {
    params.set("of", view.of);
    params.set("value", view.value);
  }
  for (const text of view.narrowed) params.append("in", text);
  if (view.sort) params.set("sort", view.sort);
  if (view.size !== defaultView.size) params.set("size", String(view.size));
  if (view.page !== 1) params.set("page", String(view.page));
  return params;
}

export function viewFromParams(params: URLSearchParams): ListView {
  return {
    search: params.get("q") ?? "",
    sort: params.get("sort") ?? "",
    size: readCount(params.get("size"), defaultView.size),
    page: readCount(params.get("page"), 1),
    of: params.get("of") ?? "",
    value: params.get("value") ?? "",
    narrowed: params.getAll("in"),
  };
}

function readCount(text: string | null, otherwise: number): number {
  return text !== null && /^\d{1,8}$/.test(text) ? Number(text) : otherwise;
}

/** The list's view, kept in the address. */
export function useListView(): [ListView, ChangeView] {
  const [params, setParams] = useSearchParams();
  const view = useMemo(() => viewFromParams(params), [params]);
  const change = useCallback<ChangeView>(
    (part) => {
      // Typing replaces the address; turning and sorting are steps to come back to.
      const replace = "search" in part;
      setParams((current) => viewToParams(changeView(viewFromParams(current), part)), { replace });
    },
    [setParams],
  );
  return [view, change];
}
