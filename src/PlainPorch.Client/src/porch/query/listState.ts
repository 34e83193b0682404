import { useLocation } from "react-router";
import type { Schemas } from "../../api/client";
import type { Removed } from "../removal/removed";

/** Where a record was opened from, so that one comes back to the same page and row. */
export interface ListState {
  /** The list's address part after the question mark, with it; "" for none. */
  list?: string;
  /** The row's place on its page. */
  row?: number;
  /** What stood around the record in the list before it was edited. */
  around?: Schemas["ListPlace"];
  /** The column whose field gets the focus. */
  focus?: string;
  /** Values that a new record is begun with, as those of the one before. */
  kept?: Record<string, string>;
  /** What was just removed there. */
  removed?: Removed;
}

/** The list that led here. */
export function useListState(): ListState {
  return (useLocation().state as ListState | null) ?? {};
}
