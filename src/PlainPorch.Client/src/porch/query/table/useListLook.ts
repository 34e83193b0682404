import { useState } from "react";
import type { PanelAddress } from "../../../api/queries";
import { bareAll, bareOf } from "../../../api/bare";
import { own } from "../../../api/whose";

/** How a list looks to one reader, whatever it shows. */
export interface ListLook {
  /** Widths in pixels that were set by hand. */
  widths: Record<string, number>;
  /** Columns that stay in sight when the table is moved sideways. */
  pinned: string[];
  /** Whether rows stand close together. */
  isClose: boolean;
}

const usual: ListLook = { widths: bareOf<number>([]), pinned: [], isClose: true };

/** The look of a panel's list, remembered by this browser. */
export function useListLook({ porch, panel }: PanelAddress): [ListLook, (part: Partial<ListLook>) => void] {
  const name = own(`plain-porch-look ${porch}/${panel}`);
  const [look, setLook] = useState<ListLook>(() => read(localStorage.getItem(name)));
  return [
    look,
    (part) => {
      setLook((before) => {
        const next = { ...before, ...part };
        localStorage.setItem(name, JSON.stringify(next));
        return next;
      });
    },
  ];
}

function read(text: string | null): ListLook {
  try {
    return text === null ? usual : { ...usual, ...bareAll(JSON.parse(text) as Partial<ListLook>) };
  } catch {
    // What another version left there is no reason to show no list.
    return usual;
  }
}
