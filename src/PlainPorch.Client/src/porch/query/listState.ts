import { useLocation } from "react-router";
import type { Removed } from "../removal/removed";

/** Where a record was opened from, so that one comes back to the same page and row. */
export interface ListState {
  /** The list's address part after the question mark, with it; "" for none. */
  list?: string;
  /** The row's place on its page. */
  row?: number;
  /** What was just removed there. */
  removed?: Removed;
}

/** The list that led here. */
export function useListState(): ListState {
  return (useLocation().state as ListState | null) ?? {};
}
