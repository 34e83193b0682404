import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import { changeView, viewFromParams, viewToParams, type ChangeView, type ListView } from "../../api/listView";

/** The list's view, kept in the address. */
export function useListView(): [ListView, ChangeView] {
  const [params, setParams] = useSearchParams();
  const view = useMemo(() => viewFromParams(params), [params]);
  const change = useCallback<ChangeView>(
    (part) => {
      // Typing replaces the address; turning and sorting are steps to come back to.
      const replace = "search" in part;
      setParams((current) => viewToParams(changeView(viewFromParams(current), part)), {
        replace,
        preventScrollReset: replace,
      });
    },
    [setParams],
  );
  return [view, change];
}
