import { useQuery } from "@tanstack/react-query";
import { api, unwrap, type RecordView } from "../../api/client";
import { bareOf, type Bare } from "../../api/bare";
import type { PanelAddress } from "../../api/queries";
import { useSettled } from "../../ui/useSettled";

const PAUSE_MS = 500;

interface TypedChecks {
  address: PanelAddress;
  /** The record as it was shown; null for a new one. */
  record: RecordView | null;
  changes: Record<string, string | null>;
  /** Whether there is something to ask. */
  isOn: boolean;
}

/** What the panel's checks say of what is typed so far, by column; "" for the record. Asked once the typing rests. */
export function useTypedChecks({ address, record, changes, isOn }: TypedChecks): Bare<string> {
  const typed = JSON.stringify(changes);
  const settled = useSettled(typed, PAUSE_MS);
  const key = record?.key ?? null;
  const isTyped = isOn && settled !== "{}";
  const answer = useQuery({
    queryKey: ["typed checks", address, key, record?.version ?? null, settled],
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/records/checking", {
          params: { path: address },
          body: { key, values: JSON.parse(settled) as Record<string, string | null> },
          signal,
        }),
      ),
    enabled: isTyped,
    // It is said again when it is saved; without an answer nothing is said.
    retry: false,
    gcTime: 0,
  });
  // What was said of something else says nothing.
  if (!isTyped || settled !== typed || !answer.data) return bareOf<string>([]);
  return bareOf(answer.data.map(({ field, message }) => [field, message] as const));
}
