import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { flushSync } from "react-dom";
import type { ListRow } from "../../api/client";
import type { ListView } from "../../api/listView";
import { countQuery, listQuery, type PanelAddress } from "../../api/queries";
import { useMoves } from "../ordering/useMoves";
import type { Removed } from "../removal/removed";
import { lastPageNumber } from "./ListFooter";
import { useListLook } from "./table/useListLook";
import { useSelection } from "./table/useSelection";
import type { Changed } from "./table/ChangedNotice";

interface RecordListOptions {
  address: PanelAddress;
  view: ListView;
  startRow?: number | null;
  removed?: Removed | null;
}

/** A list of records as it stands: what is fetched of it, what is selected, and what was just done with it. */
export function useRecordList({ address, view, startRow = null, removed: before = null }: RecordListOptions) {
  const list = useQuery(listQuery(address, view));
  const count = useQuery(countQuery(address, view));
  // On the last page of many, whose number only their exact count tells, that is counted.
  const wantsNumber =
    view.page === 0 && view.at === "last" && count.data !== undefined && count.data.certainty !== "exact";
  const exact = useQuery({ ...countQuery(address, view, true), enabled: wantsNumber });
  const [focusRow, setFocusRow] = useState<number | null>(startRow);
  const [shownRow, setShownRow] = useState<ListRow | null>(null);
  const [look, setLook] = useListLook(address);
  const [lost, setLost] = useState<string | null>(null);
  const [removed, setRemoved] = useState<Removed | null>(before);
  const [changed, setChanged] = useState<Changed | null>(null);
  const counted = exact.data ?? count.data;
  return {
    list,
    count: { data: counted },
    look: { is: look, set: setLook },
    /** The row of a table without keys that is looked at. */
    shown: { row: shownRow, set: setShownRow },
    notices: { lost, setLost, removed, setRemoved, changed, setChanged },
    selection: useSelection(),
    moves: useMoves(address),
    focusRow,
    goToRow: () => {
      // At once: the next key may be there before the next drawing.
      flushSync(() => {
        setFocusRow(null);
      });
      flushSync(() => {
        setFocusRow(0);
      });
    },
    /** The page's number; 0 where it is not known. */
    pageNumber: view.page === 0 && view.at === "last" ? lastPageNumber(counted, view.size) : view.page,
  };
}

export type ListNoticeStates = ReturnType<typeof useRecordList>["notices"];
