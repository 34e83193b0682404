import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, unwrap, type RecordView } from "../../api/client";
import { bareOf, type Bare } from "../../api/bare";
import type { PanelAddress } from "../../api/queries";
import { useSettled } from "../../ui/useSettled";

const PAUSE_MS = 500;

interface Typing {
  address: PanelAddress;
  /** The record as it was shown; null for a new one. */
  record: RecordView | null;
  changes: Record<string, string | null>;
  /** Whether there is something to ask. */
  isOn: boolean;
  /** Whether it is asked before anything is typed. */
  isFromStart: boolean;
}

export interface TypedRules {
  /** What is wrong, by column; "" for the record. */
  problems: Bare<string>;
  /** What computed columns come to, by column; null for nothing. Those that are not there stand as they are stored. */
  computed: Bare<string | null>;
  /** The fields that are out of sight now. */
  hidden: ReadonlySet<string>;
  /** The fields that must be filled in now. */
  required: ReadonlySet<string>;
  /** What fields of a new record begin with that nobody typed into. */
  starts: Bare<string | null>;
  /** Whether what was typed last is still being asked about. */
  isBehind: boolean;
}

/** What the panel's rules say of what is typed so far. Asked once the typing rests. */
export function useTypedRules({ address, record, changes, isOn, isFromStart }: Typing): TypedRules {
  const typed = JSON.stringify(changes);
  const settled = useSettled(typed, PAUSE_MS);
  const key = record?.key ?? null;
  const isTyped = isOn && (isFromStart || settled !== "{}");
  const answer = useQuery({
    queryKey: ["typed rules", address, key, record?.version ?? null, settled],
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/records/checking", {
          params: { path: address },
          body: { key, values: JSON.parse(settled) as Record<string, string | null> },
          signal,
        }),
      ),
    enabled: isTyped,
    // What is computed stands until it is computed anew.
    placeholderData: (before) => before,
    // It is said again when it is saved; without an answer nothing is said.
    retry: false,
    gcTime: 0,
  });
  const { data, isPlaceholderData, fetchStatus } = answer;
  // Without a connection nothing is on its way.
  const isBehind = isTyped && (settled !== typed || fetchStatus === "fetching");
  return useMemo(() => {
    if (!isTyped || (typed === "{}" && !isFromStart) || !data) return isBehind ? { ...nothing, isBehind } : nothing;
    // What was said of something else says nothing.
    const isCurrent = settled === typed && !isPlaceholderData;
    return {
      problems: isCurrent
        ? bareOf(data.problems.map(({ field, message }) => [field, message] as const))
        : nothing.problems,
      computed: bareOf(Object.entries(data.computed)),
      hidden: new Set(data.hidden),
      required: new Set(data.required),
      starts: bareOf(Object.entries(data.starts)),
      isBehind,
    };
  }, [isTyped, isFromStart, settled, typed, data, isPlaceholderData, isBehind]);
}

const nothing: TypedRules = {
  problems: bareOf<string>([]),
  computed: bareOf<string | null>([]),
  hidden: new Set(),
  required: new Set(),
  starts: bareOf<string | null>([]),
  isBehind: false,
};
