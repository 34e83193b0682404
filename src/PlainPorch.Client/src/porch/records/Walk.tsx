import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useNavigate } from "react-router";
import { viewFromParams } from "../../api/listView";
import { aroundQuery, countQuery, type PanelAddress } from "../../api/queries";
import type { Schemas } from "../../api/client";
import { recordPath } from "../../paths";
import { Button } from "../../ui/Button";
import { formatCount } from "../../values/format";
import { useListState } from "../query/listState";

type ListPlace = Schemas["ListPlace"];

/** The list that a record was opened from. */
export const useListCameFrom = () => viewFromParams(new URLSearchParams(useListState().list ?? ""));

interface WalkProps {
  address: PanelAddress;
  recordKey: string;
  /** Whether something else has the keyboard for the moment. */
  isPaused: boolean;
}

/** From a record to the others of the list that it was opened from, by button and by arrow key. */
export function Walk({ address, recordKey, isPaused }: WalkProps) {
  const from = useListState();
  const view = useListCameFrom();
  const navigate = useNavigate();
  // After an edit, what stood around the record before: it may stand elsewhere now, or nowhere.
  const around = useQuery({ ...aroundQuery(address, recordKey, view), enabled: from.around === undefined });
  const place = from.around ?? around.data;
  const total = useQuery(countQuery(address, view));

  const go = (key: string | null | undefined, steps: number) => {
    if (!key || key === recordKey) return;
    const row = Math.max(0, (from.row ?? 0) + steps);
    void navigate(recordPath(address.porch, address.panel, key), { state: { list: from.list, row }, replace: true });
  };
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (isPaused || event.ctrlKey || event.metaKey || event.altKey || event.shiftKey || event.defaultPrevented)
        return;
      if (event.target instanceof HTMLElement && event.target.closest("input, textarea, select, table, [role=dialog]"))
        return;
      const [key, steps] =
        event.key === "ArrowRight"
          ? [place?.next, 1]
          : event.key === "ArrowLeft"
            ? [place?.previous, -1]
            : event.key === "Home"
              ? [place?.first, 0]
              : event.key === "End"
                ? [place?.last, 0]
                : [undefined, 0];
      if (key === undefined) return;
      event.preventDefault();
      go(key, steps);
    };
    window.addEventListener("keydown", onKeyDown);
    return () => {
      window.removeEventListener("keydown", onKeyDown);
    };
  });
  if (!place) return null;
  const button = (label: string, sign: string, key: string | null, steps: number, shortcut: string) => (
    <Button
      aria-label={label}
      title={`${label} (${shortcut})`}
      aria-keyshortcuts={shortcut === "→" ? "ArrowRight" : shortcut === "←" ? "ArrowLeft" : shortcut}
      className="min-w-8 px-2"
      disabled={key === null || key === recordKey}
      onClick={() => {
        go(key, steps);
      }}
    >
      {sign}
    </Button>
  );
  return (
    <nav aria-label="Other records of the list" className="flex items-center gap-1 text-sm">
      {button("First record", "⇤", place.first, 0, "Home")}
      {button("Previous record", "←", place.previous, -1, "←")}
      <span className="px-1 text-faint tabular-nums">{positionOf(place, total.data)}</span>
      {button("Next record", "→", place.next, 1, "→")}
      {button("Last record", "⇥", place.last, 0, "End")}
    </nav>
  );
}

export function positionOf(place: ListPlace, total: Schemas["RowCount"] | undefined): string {
  if (!place.isListed) return "not in the list now";
  const at = place.hasMoreBefore ? `beyond ${formatCount(place.before)}` : formatCount(place.before + 1);
  if (!total) return at;
  const all = formatCount(total.value);
  return `${at} of ${total.certainty === "exact" ? "" : total.certainty === "about" ? "about " : "more than "}${all}`;
}
